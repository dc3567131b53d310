// Fifth face of core: the simulated house behind stand-ins, practice and tests. Never behind a judgement.
export { chanceFrom, type Chance } from './world/random.ts'
export { change, hour, MIXES, tankOf, trulyIn, type Tank, type Truth } from './world/tank.ts'
export { answerOfLaboratory, type LaboratoryOrder } from './world/laboratory.ts'
