import 'fake-indexeddb/auto'

// React Aria builds selectors with it; jsdom has none.
globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, (one) => `\\${one}`) } as typeof CSS

// Every run begins on the same evening: what is due on a page depends on the hour, and a test must not.
const RealDate = Date
const shiftMs = RealDate.parse('2026-11-23T18:20:00Z') - RealDate.now()
class EveningDate extends RealDate {
  constructor(...values: [] | [string | number | Date]) {
    if (values.length === 0) super(RealDate.now() + shiftMs)
    else super(...values)
  }
  static override now(): number {
    return RealDate.now() + shiftMs
  }
  static override [Symbol.hasInstance](value: unknown): boolean {
    return value instanceof RealDate
  }
}
globalThis.Date = EveningDate as DateConstructor

// Rules of style are drawn by a browser end to end; here each look at a role would read them all anew.
Object.assign(globalThis, { SC_DISABLE_SPEEDY: false })
CSSStyleSheet.prototype.insertRule = () => 0
CSSStyleSheet.prototype.deleteRule = () => undefined
// Nothing is painted here; a browser does that end to end.
HTMLCanvasElement.prototype.getContext = (() => null) as typeof HTMLCanvasElement.prototype.getContext
// React in its development build writes a stack for each of the first ten thousand elements of a second: a tenth of the
// time of these tests. Where a failure is looked into, stacks are kept.
if (process.env['BRINVO_GROUPED'] === '1')
  Object.defineProperty(Error, 'stackTraceLimit', { get: () => undefined, set: () => undefined, configurable: true })
// Nothing here has a sheet of style: what an element bears itself is all there is, and asking the sheets is dear.
const hidden = {
  display: 'none',
  visibility: 'visible',
  getPropertyValue: (name: string) => (name === 'display' ? 'none' : ''),
}
window.getComputedStyle = ((element: HTMLElement) =>
  element.hidden ? hidden : element.style) as typeof window.getComputedStyle
