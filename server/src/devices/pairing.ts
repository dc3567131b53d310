// A code that is shown where the server runs, and the tokens it was exchanged for. Guessing is slowed, a used code is gone.
import { createHash, createHmac, randomBytes, randomInt, timingSafeEqual } from 'node:crypto'

/** Wrong guesses allowed in a minute, from wherever they come. */
const GUESSES = 5
const MINUTE = 60_000
/** A code stands for so long. */
export const CODE_MS = 10 * MINUTE

export class Pairing {
  private code = ''
  private madeAt = 0
  private wrong: number[] = []

  /**
   * @param secret what tokens are signed with: the same after a restart, so that nobody has to pair again because the
   * machine was switched off
   */
  constructor(
    private readonly show: (code: string) => void,
    private readonly now: () => number = Date.now,
    private readonly secret: Uint8Array = randomBytes(32),
  ) {
    this.renew()
  }

  /** A fresh code of eight digits. */
  renew(): string {
    this.code = String(randomInt(0, 100_000_000)).padStart(8, '0')
    this.madeAt = this.now()
    this.show(this.code)
    return this.code
  }

  /** Exchanges a code for a token. `slow`: too many guesses; `wrong`: not this code, or one that is over. */
  pair(code: string, role: 'keeper' | 'device', device: string | null = null): string | 'slow' | 'wrong' {
    const nowMs = this.now()
    this.wrong = this.wrong.filter((at) => nowMs - at < MINUTE)
    if (this.wrong.length >= GUESSES) return 'slow'
    if (nowMs - this.madeAt > CODE_MS) {
      this.renew()
      this.wrong.push(nowMs)
      return 'wrong'
    }
    if (!same(code, this.code)) {
      this.wrong.push(nowMs)
      return 'wrong'
    }
    // A keeper's browser uses the code up; the devices of one box may say hello with the same one while it stands.
    if (role === 'keeper') this.renew()
    return this.grant(role, device)
  }

  /** A token without a code: for what the server itself has started. It says its role and device, and is signed. */
  grant(role: 'keeper' | 'device', device: string | null = null): string {
    const claim = `${role}.${device ?? ''}.${randomBytes(12).toString('base64url')}`
    return `${claim}.${this.sign(claim)}`
  }

  /** Whether a token may act in a role; of a device, only for itself. */
  may(token: string | null, role: 'keeper' | 'device', device: string | null = null): boolean {
    const parts = token?.split('.') ?? []
    if (parts.length !== 4) return false
    const [hisRole, hisDevice, nonce, signature] = parts as [string, string, string, string]
    return (
      same(signature, this.sign(`${hisRole}.${hisDevice}.${nonce}`)) &&
      hisRole === role &&
      (role === 'keeper' || hisDevice === device)
    )
  }

  private sign(claim: string): string {
    return createHmac('sha256', this.secret).update(claim).digest('base64url')
  }
}

const same = (a: string, b: string): boolean => {
  const [x, y] = [createHash('sha256').update(a).digest(), createHash('sha256').update(b).digest()]
  return timingSafeEqual(x, y)
}
