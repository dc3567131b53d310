// Loaded after the round: reading campaigns and instruments takes code that the first look does not need.
export { ammoniaConcerns, ammoniaWatchOf, campaignConcernsOf } from '@brinvo/core'
