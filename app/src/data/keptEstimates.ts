// The last estimate of each course, kept between two openings of the page: working it out takes a second on a laptop and
// several on a phone, and nothing was written meanwhile. What was kept from other inputs or by another build is not used.
import { digestOf, type CourseEstimate } from '@brinvo/core'
import { openKept } from './keyStore.ts'

interface Kept {
  readonly mark: string
  readonly estimate: CourseEstimate
}
/** The build that runs, by the name of its entry: it carries a digest of all it loads. Empty where nothing was built. */
const build = (): string =>
  typeof document === 'undefined'
    ? ''
    : (/\/assets\/[^/]+\.js$/.exec(
        document.querySelector('script[type=module][src]')?.getAttribute('src') ?? '',
      )?.[0] ?? '')

/** The estimate of these inputs as it was kept, else worked out and kept. A store that fails costs a second, nothing else. */
export async function keptEstimate(
  courseId: string,
  inputs: string,
  work: () => Promise<CourseEstimate>,
): Promise<CourseEstimate> {
  const by = build()
  if (by === '') return work()
  const mark = `${by} ${digestOf(inputs)} ${inputs.length}`
  try {
    const found = await openKept().getItem<Kept>(courseId)
    if (found?.mark === mark) return found.estimate
  } catch {
    return work()
  }
  const estimate = await work()
  openKept()
    .setItem(courseId, { mark, estimate } satisfies Kept)
    .catch(() => undefined)
  return estimate
}
