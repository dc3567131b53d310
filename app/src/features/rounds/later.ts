// Loaded after the round: reading campaigns, instruments and tests takes code that the first look does not need.
export { ammoniaConcerns, ammoniaWatchOf, campaignConcernsOf, testConcerns } from '@brinvo/core'
