// Diagnosis cases belong to the findings engine, which is not built yet: say so and fail, never pretend.
console.error('There is no findings engine yet, so no case can be run.')
process.exit(2)
