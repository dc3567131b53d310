// Pictures of a place measured: cover, change, and the place found again. Used by the application's patch worker and page.
export { coverOf, type CoverAnswer, type CoverQuestion } from './imaging/cover.ts'
export { bareShare, lengthMm, type Mark, type Stretch } from './imaging/marks.ts'
export { findSpots, type FoundSpot, type SpotQuestion } from './imaging/spots.ts'
export { balanced } from './imaging/neutral.ts'
export { mapped, type Similarity } from './imaging/register.ts'
export type { Picture } from './imaging/frame.ts'
