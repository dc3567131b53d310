// Sums at the tank: numbers new each time, checked with their unit, two ways of working shown.
import { parseQuantity } from '@brinvo/core'
import { checkDrill, DRILLS, DRILL_TITLES, drillOf, type DrillKind } from '@brinvo/core/practice'
import { useMemo, useState } from 'react'
import { notePractised } from '../../data/practice.ts'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'

const freshSeed = () => Math.floor(Math.random() * 1e9)
const DIMENSION = { mL: 'volume', L: 'volume', 'mg/L': 'concentration' } as const

export function DrillsPage() {
  const [kind, setKind] = useState<DrillKind>('dose')
  const [seed, setSeed] = useState(freshSeed)
  return (
    <Page>
      <Row $between>
        <h1>Sums at the tank</h1>
        <LinkButton to="/practice" $look="bare">
          Back to practice
        </LinkButton>
      </Row>
      <Choice
        label="Which"
        hideLabel
        value={kind}
        onChange={setKind}
        options={DRILLS.map((one) => ({ value: one, label: DRILL_TITLES[one] }))}
      />
      <One key={`${kind} ${seed}`} kind={kind} seed={seed} onNext={() => setSeed(freshSeed())} />
    </Page>
  )
}

/** The number that was typed, in the unit of the answer; a sentence where it is none. */
function readAnswer(text: string, unit: string): { readonly value: number } | { readonly problem: string } {
  const parsed = parseQuantity(text, {
    dimension: DIMENSION[unit as keyof typeof DIMENSION] as never,
    fieldUnit: unit,
    label: 'The answer',
    allowBound: false,
  })
  if (!parsed.ok) return { problem: parsed.error.message }
  // Volumes come in litres, whatever was typed.
  return { value: unit === 'mL' ? parsed.value.value * 1000 : parsed.value.value }
}

function One({ kind, seed, onNext }: { readonly kind: DrillKind; readonly seed: number; readonly onNext: () => void }) {
  const drill = useMemo(() => drillOf(kind, seed), [kind, seed])
  const [typed, setTyped] = useState('')
  const [told, setTold] = useState<{ readonly right: boolean; readonly slip: 'ten' | null } | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const check = () => {
    const read = readAnswer(typed, drill.unit)
    if ('problem' in read) return setProblem(read.problem)
    setProblem(null)
    const found = checkDrill(drill, read.value)
    setTold(found)
    notePractised({ atMs: Date.now(), what: 'drill', id: kind, share: found.right ? 1 : 0 })
  }
  const trim = (value: number) => String(Number(value.toPrecision(3)))
  return (
    <Tray>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (told) onNext()
          else check()
        }}
      >
        <Stack $gap={12}>
          <p style={{ fontSize: 19, maxWidth: '60ch' }}>{drill.question}</p>
          <div style={{ maxWidth: 280 }}>
            <Field
              label="Your answer"
              unit={drill.unit}
              value={typed}
              onChange={setTyped}
              error={problem}
              numeric
              autoFocus
            />
          </div>
          {told && (
            <div role="status">
              <p>
                <strong>
                  {told.right ? 'Right' : told.slip === 'ten' ? 'Off by ten: a decimal has slipped' : 'Not so'}
                </strong>
                : {trim(drill.answer)} {drill.unit}.
              </p>
              <ol style={{ display: 'grid', gap: 4, listStyle: 'decimal', paddingLeft: 22 }}>
                {drill.ways.map((way) => (
                  <li key={way}>{way}</li>
                ))}
              </ol>
              <Quiet>Counted as right within {Math.round(100 * drill.within)} %.</Quiet>
            </div>
          )}
          <Row>
            {told ? (
              <Button look="main" onPress={onNext}>
                Another
              </Button>
            ) : (
              <Button look="main" isDisabled={typed.trim() === ''} onPress={check}>
                Check it
              </Button>
            )}
          </Row>
        </Stack>
      </form>
    </Tray>
  )
}
