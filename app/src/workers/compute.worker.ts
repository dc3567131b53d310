import { handle } from './handle.ts'
import type { Request } from './protocol.ts'

self.onmessage = (event: MessageEvent<Request>) => self.postMessage(handle(event.data))
