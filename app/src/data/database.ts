// Which record is open: the keeper's own, the demonstration or a backup that is looked into, each in its own database.
import { dayOf, defaultSettings, type Settings } from '@brinvo/core'
import { DATABASES, openKeyStore, type Mode } from './keyStore.ts'
import { newestIn } from './newest.ts'
import { browserChannel, browserLock, createRepository, type Repository } from './repository.ts'

const MODE_KEY = 'brinvo-mode'

export const browserZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
export const freshSettings = (): Settings => {
  const locale = typeof navigator === 'undefined' ? 'en-GB' : navigator.language
  const settings = defaultSettings(browserZone(), locale)
  return /-US$/.test(locale) ? { ...settings, volume: 'US gal', temperature: '°F', length: 'in' } : settings
}

const repositories = new Map<Mode, Repository>()
/** The repository of a mode, opened once. */
export function repositoryOf(mode: Mode): Repository {
  let repository = repositories.get(mode)
  if (!repository) {
    const database = DATABASES[mode]
    repository = createRepository({
      store: openKeyStore(database),
      lock: browserLock(),
      channel: browserChannel(database),
      freshSettings,
      // Only what cannot be made again is kept twice.
      ...(mode === 'keeper' ? { newest: newestIn(() => localStorage) } : {}),
    })
    repositories.set(mode, repository)
  }
  return repository
}

/** The mode chosen last on this machine. Session storage first, so that two tabs may show different records. */
export function storedMode(): Mode {
  try {
    // A look into a backup ends with its tab.
    const chosen = sessionStorage.getItem(MODE_KEY) ?? localStorage.getItem(MODE_KEY)
    return chosen === 'demo' || chosen === 'look' || chosen === 'practice' ? chosen : 'keeper'
  } catch {
    return 'keeper'
  }
}
export function storeMode(mode: Mode): void {
  try {
    sessionStorage.setItem(MODE_KEY, mode)
    if (mode !== 'look' && mode !== 'practice') localStorage.setItem(MODE_KEY, mode)
  } catch {
    // A browser without either keeps the mode for this page only.
  }
}

const SEED = 7

/** Makes sure the demonstration stands at today: made anew each day while nobody has touched it. */
export async function prepareDemo(repository: Repository, nowMs: number): Promise<void> {
  const facts = await repository.facts()
  const zone = browserZone()
  const anchor = `${dayOf(nowMs, zone)} ${zone}`
  if (facts.touched === 'yes') return
  if (facts.anchor === anchor && Math.abs(nowMs - Number(facts.madeMs ?? 0)) < 30 * 60_000) return
  const { demoRecord } = await import('@brinvo/core/demo')
  await repository.replaceAll(demoRecord({ seed: SEED, anchorMs: nowMs, zone, locale: freshSettings().locale }), {
    anchor,
    madeMs: String(nowMs),
  })
}
