// swc for TypeScript, and for every module the names of the language bound once at its top.
//
// Jest runs modules in a context of their own, where each look at a global (`Math`, `Number`, `Map`) goes through an
// interceptor: arithmetic runs four times slower than in plain Node. Bound once per module they are as fast as anywhere.
// Names that a test may replace (`Date`, `fetch`, timers) stay what they are.
import swc from '@swc/jest'

const NAMES = [
  'Array',
  'Boolean',
  'Error',
  'Float64Array',
  'Infinity',
  'JSON',
  'Map',
  'Math',
  'NaN',
  'Number',
  'Object',
  'Set',
  'String',
  'Symbol',
  'Uint8Array',
  'WeakMap',
  'isFinite',
]
const escaped = (name) => new RegExp(`(?<![.\\w$])${name}(?![\\w$])`)
const uses = new Map(NAMES.map((name) => [name, escaped(name)]))
/** A name the module makes itself: a declaration, an import, a parameter or a label of that name. */
const makes = new Map(
  NAMES.map((name) => [
    name,
    new RegExp(
      `(?:\\b(?:const|let|var|class|function\\*?|as)\\s+|[{,(]\\s*)${name}(?![\\w$])\\s*(?:[,}=)]|\\(|extends|\\{|;)`,
    ),
  ]),
)

/** The code with the language's names bound on its first line; line numbers stay. */
export function bound(code) {
  const names = NAMES.filter((name) => uses.get(name).test(code) && !makes.get(name).test(code))
  if (names.length === 0) return code
  const strict = /^(?:\s|\/\*[\s\S]*?\*\/|\/\/[^\n]*\n)*['"]use strict['"]/.test(code.slice(0, 2000))
    ? '"use strict";'
    : ''
  return `${strict}const {${names.join(',')}} = globalThis;${code}`
}

export default {
  createTransformer(options) {
    const inner = swc.createTransformer(options)
    return {
      ...inner,
      canInstrument: false,
      process(source, path, jest) {
        if (path.endsWith('js')) return { code: bound(source) }
        const out = inner.process(source, path, jest)
        return { ...out, code: bound(out.code) }
      },
      processAsync(source, path, jest) {
        return Promise.resolve(this.process(source, path, jest))
      },
      getCacheKey: (source, path, jest) => `bound-2-${inner.getCacheKey?.(source, path, jest) ?? ''}`,
    }
  },
}
