// The program as it is kept in this browser: installed once the first view stands, renewed when the keeper says so. And what this
// browser does not give us here, each thing in a sentence.

export interface Program {
  /** A newer build is kept and waits to be taken. */
  readonly waiting: boolean
  /** Another window took the newer build: this one still shows the one before. */
  readonly behind: boolean
  /** It is kept here: it opens without its server. */
  readonly kept: boolean
  /** Keeping it failed, or this browser has no means for it. */
  readonly unkept: boolean
  /** The browser offers to put it among the programs of this device. */
  readonly offered: boolean
}
/** What browsers that offer an installation hand out. */
interface InstallOffer extends Event {
  prompt(): Promise<unknown>
}
let offer: InstallOffer | null = null
/** A newer build is asked for this often while the page is open, ms. */
const LOOK_MS = 60 * 60_000
/** The first view comes first, ms. */
const AFTER_MS = 1500

let state: Program = { waiting: false, behind: false, kept: false, unkept: false, offered: false }
const listeners = new Set<() => void>()
let registration: ServiceWorkerRegistration | undefined
let taking = false
function say(change: Partial<Program>): void {
  state = { ...state, ...change }
  for (const listener of listeners) listener()
}
export const programNow = (): Program => state
export function onProgram(listener: () => void): () => void {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

/** Keeps the program in this browser; called once. */
export function keepProgram(): void {
  window.addEventListener('beforeinstallprompt', (event) => {
    event.preventDefault()
    offer = event as InstallOffer
    say({ offered: true })
  })
  window.addEventListener('appinstalled', () => say({ offered: false }))
  if (!('serviceWorker' in navigator)) return say({ unkept: true })
  const workers = navigator.serviceWorker
  // The first worker of all takes over a page that had none: that changes nothing in it.
  let had = workers.controller !== null
  workers.addEventListener('controllerchange', () => {
    if (taking) window.location.reload()
    else if (had) say({ waiting: false, behind: true })
    had = true
  })
  const begin = async () => {
    try {
      registration = await workers.register('/sw.js', { updateViaCache: 'none' })
    } catch {
      return say({ unkept: true })
    }
    if (registration === undefined) return
    const look = () =>
      say({
        waiting: registration?.waiting != null && workers.controller !== null,
        kept: registration?.active != null,
        unkept: registration?.active == null && registration?.installing == null && registration?.waiting == null,
      })
    look()
    registration.addEventListener('updatefound', () => {
      registration?.installing?.addEventListener('statechange', look)
    })
    const ask = () => void registration?.update().catch(() => undefined)
    setInterval(ask, LOOK_MS)
    document.addEventListener('visibilitychange', () => {
      if (document.visibilityState === 'visible') ask()
    })
  }
  const later = () => setTimeout(() => void begin(), AFTER_MS)
  if (document.readyState === 'complete') later()
  else window.addEventListener('load', later, { once: true })
}

/** Takes the newer build: every window changes to it, this one at once. */
export function takeProgram(): void {
  if (state.behind) return window.location.reload()
  taking = true
  registration?.waiting?.postMessage('take')
}

/** Puts it among the programs of this device; the browser asks once more. */
export async function installProgram(): Promise<void> {
  await offer?.prompt()
  offer = null
  say({ offered: false })
}

/** Forgets the kept program, for the day on which it does not open; the record is not touched. */
export async function forgetProgram(): Promise<void> {
  if ('serviceWorker' in navigator)
    for (const one of await navigator.serviceWorker.getRegistrations()) await one.unregister()
  if ('caches' in globalThis)
    for (const name of await caches.keys()) if (name.startsWith('brinvo-')) await caches.delete(name)
}

/** What this browser does not give to this page; nothing where all is there. */
export function missingHere(program: Program): string[] {
  const found: string[] = []
  if (program.unkept)
    found.push('Without a network, or with the program on the laptop stopped, Brinvo does not open here.')
  if (!('locks' in navigator))
    found.push('Two windows with the same record could write over each other: keep one open.')
  if (navigator.storage?.persist === undefined)
    found.push('The browser cannot be asked to keep the record: it may throw it away. Copies count.')
  if (navigator.mediaDevices?.getUserMedia === undefined)
    found.push('The camera cannot be opened from the page: pictures and clips come from files.')
  if (globalThis.crypto?.subtle === undefined)
    found.push('The record cannot be handed over with a code: nothing can be encrypted here. A file works.')
  return found
}
