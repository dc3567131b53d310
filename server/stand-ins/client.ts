// A device at the local interface, as any device would be written: hello, samples, orders, reports.
import type { Sample } from './bodies.ts'

export interface Order {
  readonly n: number
  readonly do: 'pour' | 'run' | 'stop' | 'read'
  readonly mL?: number
  readonly seconds?: number
  readonly analyte?: string
}

export class DeviceClient {
  private token: string | null = null
  constructor(
    private readonly base: string,
    readonly id: string,
    readonly sort: string,
    readonly name: string,
  ) {}

  private async post(path: string, body: unknown): Promise<Record<string, unknown>> {
    const response = await fetch(`${this.base}/devices/api${path}`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        ...(this.token === null ? {} : { authorization: `Bearer ${this.token}` }),
      },
      body: JSON.stringify(body),
    })
    const answer = (await response.json()) as Record<string, unknown>
    if (!response.ok) throw new Error(`${this.name}: ${String(answer['problem'])}`)
    return answer
  }
  /** @throws where the code is wrong */
  async hello(code: string): Promise<void> {
    const { token } = await this.post('/hello', { id: this.id, sort: this.sort, name: this.name, code })
    this.token = String(token)
  }
  async samples(samples: readonly Sample[]): Promise<void> {
    if (samples.length > 0) await this.post(`/${this.id}/samples`, { samples })
  }
  async report(order: number, mL: number, dry: boolean): Promise<void> {
    await this.post(`/${this.id}/reports`, { order, mL, dry })
  }
  /** Orders as they come, until the connection ends. */
  async orders(take: (order: Order) => Promise<void> | void, signal?: AbortSignal): Promise<void> {
    const response = await fetch(`${this.base}/devices/api/${this.id}/orders`, {
      headers: { authorization: `Bearer ${this.token}` },
      ...(signal ? { signal } : {}),
    })
    if (!response.ok || !response.body) throw new Error(`${this.name}: orders are refused.`)
    let rest = ''
    const decoder = new TextDecoder()
    for await (const piece of response.body as unknown as AsyncIterable<Uint8Array>) {
      rest += decoder.decode(piece, { stream: true })
      const lines = rest.split('\n')
      rest = lines.pop()!
      for (const line of lines) {
        const order = JSON.parse(line) as Order & { type?: string }
        if (order.type === undefined) await take(order)
      }
    }
  }
}
