// Where what was set out for leads back to: a thing registered on the way returns its keeper to what needed it.
import { useLocation, useSearchParams } from 'react-router'

/** A place of this application, or null: a way back never leads off it. */
export const wayBack = (then: string | null): string | null =>
  then !== null && /^\/(?![/\\])/.test(then) ? then : null

/** The place that asked for what is done here, from the address. */
export function useWayBack(): string | null {
  const [params] = useSearchParams()
  return wayBack(params.get('then'))
}

/** An address with the way back to where one stands, with what has been chosen there so far. */
export function useWayThere(): (to: string, chosen?: Readonly<Record<string, string>>) => string {
  const { pathname, search } = useLocation()
  return (to, chosen = {}) => {
    const here = new URLSearchParams(search)
    for (const [key, value] of Object.entries(chosen)) if (value !== '') here.set(key, value)
    const back = here.size > 0 ? `${pathname}?${here.toString()}` : pathname
    return `${to}${to.includes('?') ? '&' : '?'}then=${encodeURIComponent(back)}`
  }
}
