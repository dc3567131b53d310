// Loaded after the round: reading campaigns, instruments and tests takes code that the first look does not need.
export {
  ammoniaConcerns,
  ammoniaWatchOf,
  campaignConcernsOf,
  checkedWords,
  testConcerns,
  waterConcerns,
} from '@brinvo/core'
