// Simulated keepers: they see steps and words, press what a screen would press, and nothing else.
export interface Keeper {
  readonly id: KeeperId
  /** Hours of the day at which it looks. */
  readonly looksAt: readonly number[]
  /** Share of due steps it leaves for the next look. */
  readonly putsOff: number
  /** Share of what it did that it never writes down; of readings it writes with a slipped digit. */
  readonly unlogged: number
  readonly typos: number
  /** Goes on against a block with words. */
  readonly stubborn: boolean
  /** Days on which the keeper does not look; a sitter does, unless there is none. */
  readonly awayFrom?: number
  readonly awayDays?: number
  readonly noSitter?: boolean
}
export const KEEPERS = {
  exact: { id: 'exact', looksAt: [8, 13, 19, 22], putsOff: 0, unlogged: 0, typos: 0, stubborn: false },
  late: { id: 'late', looksAt: [7, 14, 23], putsOff: 0.25, unlogged: 0, typos: 0, stubborn: false },
  forgetful: { id: 'forgetful', looksAt: [9, 13, 20, 23], putsOff: 0.3, unlogged: 0, typos: 0, stubborn: false },
  sloppy: { id: 'sloppy', looksAt: [8, 13, 20, 22], putsOff: 0.1, unlogged: 0.04, typos: 0.02, stubborn: false },
  stubborn: { id: 'stubborn', looksAt: [8, 14, 20], putsOff: 0.05, unlogged: 0, typos: 0, stubborn: true },
  absent: {
    id: 'absent',
    looksAt: [8, 13, 19, 22],
    putsOff: 0,
    unlogged: 0,
    typos: 0,
    stubborn: false,
    awayFrom: 6,
    awayDays: 9,
  },
  // Stops writing for a week and comes back.
  silent: {
    id: 'silent',
    looksAt: [8, 13, 19, 22],
    putsOff: 0,
    unlogged: 0,
    typos: 0,
    stubborn: false,
    awayFrom: 8,
    awayDays: 7,
    noSitter: true,
  },
} as const satisfies Record<string, Keeper>
export type KeeperId = 'exact' | 'late' | 'forgetful' | 'sloppy' | 'stubborn' | 'absent' | 'silent'
