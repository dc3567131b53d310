import { describe, expect, test } from '@jest/globals'
import { activeEntries, courseInputs } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ComputeClient, type WorkerLike } from '../src/workers/client.ts'
import { handle } from '../src/workers/handle.ts'
import type { Request } from '../src/workers/protocol.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const inputs = courseInputs(demo, activeEntries(demo.entries), demo.courses.get('copper-holding-a')!, NOW, 16)!.inputs

/** A worker that answers when told to. */
class SlowWorker implements WorkerLike {
  onmessage: WorkerLike['onmessage'] = null
  onerror: WorkerLike['onerror'] = null
  terminated = false
  readonly asked: Request[] = []
  postMessage(message: Request) {
    this.asked.push(message)
  }
  terminate() {
    this.terminated = true
  }
  answer() {
    const request = this.asked.at(-1)!
    this.onmessage?.({ data: { kind: 'done', jobId: request.jobId, output: request.jobId } } as never)
  }
}

describe('the handler', () => {
  test('estimates a course from plain data, and its answer is plain data', () => {
    const reply = handle({ jobId: 1, name: 'estimate', input: structuredClone(inputs) })
    expect(reply.kind).toBe('done')
    expect(structuredClone(reply)).toEqual(reply)
  })
  test('a fault becomes a reply', () => {
    const reply = handle({
      jobId: 2,
      name: 'estimate',
      input: { ...inputs, model: { ...inputs.model, volume: { median: 0, sdLn: 1 } } },
    })
    expect(reply).toMatchObject({ kind: 'failed', message: expect.stringMatching(/volume must be above zero/) })
  })
})

describe('the client', () => {
  test('runs one job after the other', async () => {
    const worker = new SlowWorker()
    const client = new ComputeClient(() => worker)
    const first = client.run('estimate', inputs)
    const second = client.run('estimate', inputs)
    expect(worker.asked).toHaveLength(1)
    worker.answer()
    expect(await first).toBe(1)
    worker.answer()
    expect(await second).toBe(2)
  })
  test('cancelling a running job ends its worker; the next gets a new one', async () => {
    const workers: SlowWorker[] = []
    const client = new ComputeClient(() => {
      const worker = new SlowWorker()
      workers.push(worker)
      return worker
    })
    const stop = new AbortController()
    const job = client.run('estimate', inputs, stop.signal)
    const waiting = client.run('estimate', inputs)
    stop.abort()
    await expect(job).rejects.toMatchObject({ name: 'AbortError' })
    expect(workers[0]!.terminated).toBe(true)
    workers[1]!.answer()
    expect(await waiting).toBe(2)
  })
  test('cancelling a waiting job leaves the running one alone', async () => {
    const worker = new SlowWorker()
    const client = new ComputeClient(() => worker)
    const running = client.run('estimate', inputs)
    const stop = new AbortController()
    const waiting = client.run('estimate', inputs, stop.signal)
    stop.abort()
    await expect(waiting).rejects.toMatchObject({ name: 'AbortError' })
    expect(worker.terminated).toBe(false)
    worker.answer()
    expect(await running).toBe(1)
  })
  test('a worker that dies fails its job, not the client', async () => {
    const workers: SlowWorker[] = []
    const client = new ComputeClient(() => {
      const worker = new SlowWorker()
      workers.push(worker)
      return worker
    })
    const job = client.run('estimate', inputs)
    workers[0]!.onerror?.({ message: 'out of memory' } as ErrorEvent)
    await expect(job).rejects.toThrow('out of memory')
    const next = client.run('estimate', inputs)
    workers[1]!.answer()
    expect(await next).toBe(2)
  })
})
