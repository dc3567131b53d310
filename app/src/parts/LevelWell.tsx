// Where an amount leads, beside it while it is typed: amount, strength, water and level stand together.
import type { LevelPreview } from '@brinvo/core'
import { useRecord } from '../data/queries.tsx'
import { Quiet, Row, Well } from '../design/primitives.tsx'
import { WorkingButton } from '../design/Working.tsx'
import { levelText, litresText } from '../design/words.ts'

const FROM = {
  estimate: 'by your tests and doses',
  reading: 'by the last reading',
  residue: 'what earlier doses may have left',
  none: 'none of it was given here',
} as const
const UNIT = { mL: 'mL', g: 'g', drop: 'drops', tablet: 'tablets' } as const

export function LevelWell({ level }: { level: LevelPreview }) {
  const { record } = useRecord()
  const over = level.toMgPerL > level.ceilingMgPerL * (1 + 1e-9)
  return (
    <Well aria-live="polite">
      <Row $between style={{ alignItems: 'baseline' }}>
        <span>
          {level.amount} {UNIT[level.unit]} of {Number(level.contentMg.toPrecision(4))} mg/{level.unit} in{' '}
          {litresText(level.volumeL, record.settings)}: from <strong>{levelText(level.fromMgPerL)}</strong>{' '}
          <Quiet>({FROM[level.from]})</Quiet> to{' '}
          <strong style={over ? { color: 'var(--danger)' } : undefined}>{levelText(level.toMgPerL)} mg/L</strong>
        </span>
        <WorkingButton working={level.working} />
      </Row>
      {level.most && (
        <Quiet>
          {level.most.amount > 0
            ? `At most ${level.most.amount} ${UNIT[level.unit]} may go in now (ceiling ${levelText(level.ceilingMgPerL)} mg/L).`
            : `Nothing more may go in now (ceiling ${levelText(level.ceilingMgPerL)} mg/L).`}
        </Quiet>
      )}
    </Well>
  )
}
