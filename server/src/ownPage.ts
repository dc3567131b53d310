// Requests that a browser made for another page.
import type { Request } from 'express'

/** Whether a page of another origin is behind a request, whatever it carries. */
export function foreignPage(request: Request): boolean {
  const { origin, host } = request.headers
  const site = request.headers['sec-fetch-site']
  return (
    (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) ||
    (site !== undefined && site !== 'same-origin' && site !== 'none')
  )
}
