// The joining of two records, in a part of its own that the first view does not wait for.
export { joinRecords } from '@brinvo/core'
