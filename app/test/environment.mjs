// jsdom with what it lacks and Node has.
import { TestEnvironment } from 'jest-environment-jsdom'

export default class BrowserEnvironment extends TestEnvironment {
  constructor(config, context) {
    super(config, context)
    const borrowed = { TextEncoder, TextDecoder, structuredClone, fetch, Request, Response, Headers }
    for (const [name, value] of Object.entries(borrowed)) this.global[name] ??= value
    this.global.structuredClone = structuredClone
  }
}
