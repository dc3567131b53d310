// The one page that goes out without TLS: how a phone comes to trust this house. It holds nothing and asks for nothing.
import { createServer, type Server } from 'node:http'
import express from 'express'
import helmet from 'helmet'
import { hostName } from './app.ts'
import type { House } from './authority.ts'

export interface PhonePageOptions {
  readonly house: () => House
  /** Where the application is served over TLS. */
  readonly origins: () => readonly string[]
  readonly allowedHosts: () => readonly string[]
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`)
const STYLE = `body{font:18px/1.5 system-ui,sans-serif;margin:0 auto;max-width:38rem;padding:1rem;color:#14323a;background:#f5f8f6}
h1{font-size:1.5rem;line-height:1.2}h2{font-size:1.15rem;margin:1.6rem 0 .3rem}
a.main{display:inline-block;padding:.7rem 1.1rem;border-radius:10px;background:#14323a;color:#fff;text-decoration:none;font-weight:700}
code{font:700 1rem/1.6 ui-monospace,monospace;overflow-wrap:anywhere}li{margin:.35rem 0}p.note{border-left:4px solid #14323a;padding-left:.8rem}
@media (prefers-color-scheme:dark){body{color:#e2ece9;background:#0b1e24}a{color:#9fd6cb}a.main{background:#9fd6cb;color:#0b1e24}p.note{border-color:#9fd6cb}}`

export function phonePage({ house, origins, allowedHosts }: PhonePageOptions): Server {
  const app = express()
  app.disable('x-powered-by')
  app.use((request, response, next) => {
    if (allowedHosts().includes(hostName(request.headers.host))) next()
    else response.status(421).type('text/plain').send('This server answers only under the address it printed.\n')
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          styleSrc: ["'unsafe-inline'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
      referrerPolicy: { policy: 'no-referrer' },
    }),
  )
  app.get('/brinvo-house.crt', (_request, response) => {
    response.setHeader('Cache-Control', 'no-store')
    response.setHeader('Content-Disposition', 'attachment; filename="brinvo-house.crt"')
    response.type('application/x-x509-ca-cert').send(house().authority)
  })
  app.get('/', (_request, response) => {
    response.setHeader('Cache-Control', 'no-store')
    const marks = house().fingerprint.split(' ')
    const places = origins().map((origin) => `<li><a href="${escaped(origin)}">${escaped(origin)}</a></li>`)
    response.type('text/html').send(`<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Brinvo on this phone</title><style>${STYLE}</style></head><body>
<h1>Brinvo on this phone</h1>
<p>Camera, work without a network, and a record that two pages cannot spoil: a browser grants them only over a connection it trusts. The laptop has made an authority for this house alone. Take it in once.</p>
<h2>1. Compare</h2>
<p>These letters must be the same as in the window where Brinvo runs. If one differs, stop: something else answers here.</p>
<p><code>${escaped(marks.slice(0, 16).join(' '))}</code></p>
<h2>2. Take it in</h2>
<p><a class="main" href="/brinvo-house.crt">Take the authority of this house</a></p>
<ul>
<li><b>Android:</b> open Settings, search for “CA certificate”, choose “Install anyway”, then the file brinvo-house.crt.</li>
<li><b>iPhone, iPad:</b> allow the profile, then Settings, “Profile downloaded”, Install. Afterwards Settings, General, About, Certificate Trust Settings: switch it on.</li>
</ul>
<p class="note">What this means: the phone believes what this authority signs, and it is held to addresses of private networks and names ending in .local: it can vouch for no site of the internet. Its key never leaves the laptop. To take it back, delete it in the same settings.</p>
<h2>3. Open it</h2>
<ul>${places.join('')}</ul>
<p>Then put it on the home screen: “Install” or “Add to Home Screen” in the browser's menu. It opens without a network from then on.</p>
<p>The record on the phone belongs to the address you open. Let the router give the laptop the same address always; if it changes, hand the record over once more.</p>
<h2>Without the authority</h2>
<p>The addresses above open too, after a warning of the browser. Then these are missing: opening without a network, the install on the home screen, and on some phones the camera and the promise to keep the record. Brinvo names them on its own page. Never pass over such a warning anywhere else.</p>
</body></html>`)
  })
  app.use((_request, response) => void response.status(404).type('text/plain').send('No such page.\n'))
  return createServer(app)
}
