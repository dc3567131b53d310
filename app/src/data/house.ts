// The acts, in a part of their own that the first view does not wait for.
export { answer, commitAct } from '@brinvo/core'
