// Loaded after the round: reading campaigns takes code that the first look does not need.
export { campaignConcernsOf } from '@brinvo/core'
