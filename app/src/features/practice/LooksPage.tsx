// Made-up cases: which look next, which name, how sure. Scored by what is right and by how sure it was said; the tables give reasons.
import { POOLS, signOf } from '@brinvo/core'
import {
  dropOfCase,
  lookCase,
  looksToChoose,
  MOST_LOOKS,
  namesToChoose,
  rankingOf,
  signWords,
  type LookCase,
} from '@brinvo/core/practice'
import { useMemo, useState } from 'react'
import { notePractised } from '../../data/practice.ts'
import { Choice } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { isDrawn, SignPicture } from '../../parts/Drawings.tsx'
import { MovingField } from '../../parts/slides/MovingField.tsx'
import { drawnSlide } from '../../parts/slides/standIn.ts'
import { useDrawnSlide } from '../../parts/slides/useDrawnSlide.ts'
import { dueAgain, noteTold } from './spacing.ts'

type PoolId = (typeof POOLS)[number]['id']
interface Seen {
  readonly sign: string
  readonly answer: 'yes' | 'no'
  readonly bits?: number
  readonly best?: number
}
const SURE = [
  { value: '0.3', label: 'a guess' },
  { value: '0.5', label: 'as likely as not' },
  { value: '0.7', label: 'rather sure' },
  { value: '0.9', label: 'sure' },
] as const
const freshSeed = () => Math.floor(Math.random() * 1e9)

export function LooksPage() {
  const [pool, setPool] = useState<PoolId>('fish-marine')
  const [seed, setSeed] = useState(freshSeed)
  const made = useMemo(() => lookCase(pool, seed, dueAgain(pool, Date.now()) ?? undefined), [pool, seed])
  return (
    <Page>
      <Row $between>
        <h1>Looks</h1>
        <LinkButton to="/practice" $look="bare">
          Back to practice
        </LinkButton>
      </Row>
      <Choice
        label="What to look at"
        hideLabel
        value={pool}
        onChange={(next) => {
          setPool(next)
          setSeed(freshSeed())
        }}
        options={POOLS.map(({ id, label, water }) => ({
          value: id,
          label: `${label}${water === 'both' || /marine|fresh/i.test(label) ? '' : `, ${water === 'fresh' ? 'fresh water' : 'sea'}`}`,
        }))}
      />
      <Case key={`${pool} ${seed}`} made={made} onNext={() => setSeed(freshSeed())} />
    </Page>
  )
}

function Case({ made, onNext }: { readonly made: LookCase; readonly onNext: () => void }) {
  const [seen, setSeen] = useState<readonly Seen[]>(made.first)
  const [name, setName] = useState<string | null>(null)
  const [sure, setSure] = useState<(typeof SURE)[number]['value'] | ''>('')
  const [told, setTold] = useState(false)
  const plan = useMemo(() => dropOfCase(made), [made])
  const [drop, setDrop] = useState(false)
  const taken = seen.length - made.first.length + (drop ? 1 : 0)
  const choices = useMemo(() => looksToChoose(made, seen), [made, seen])
  const names = useMemo(() => namesToChoose(made, made.first), [made])
  const take = (sign: string, bits: number) =>
    setSeen([
      ...seen,
      { sign, answer: made.answers.get(sign) ?? 'no', bits, best: Math.max(...choices.map((one) => one.bits)) },
    ])
  const tell = () => {
    const right = name === made.truth.id
    setTold(true)
    noteTold(made.pool, made.truth.id, right, Number(sure), Date.now())
    // Whoever was taken for another comes again as well.
    if (!right && name !== null) noteTold(made.pool, name, false, Number(sure), Date.now())
    notePractised({ atMs: Date.now(), what: 'look', id: made.truth.id, share: right ? 1 : 0, sure: Number(sure) })
  }
  return (
    <>
      <Tray aria-label="What is seen">
        <Stack $gap={8}>
          <h2>What is seen</h2>
          <ul style={{ display: 'grid', gap: 8 }}>
            {seen.map(({ sign, answer }) => (
              <li key={sign} style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
                {isDrawn(sign) && answer === 'yes' && <SignPicture id={sign} size={90} />}
                <span>
                  <strong>{answer === 'yes' ? 'Yes' : 'No'}:</strong> {signWords(sign)}
                </span>
              </li>
            ))}
          </ul>
          {drop && plan && <Drop plan={plan} />}
        </Stack>
      </Tray>
      {!told && taken < MOST_LOOKS && choices.length > 0 && (
        <Tray>
          <Stack $gap={8}>
            <h2>Which look next?</h2>
            <Row $gap={8} style={{ flexWrap: 'wrap' }}>
              {choices.map(({ sign, bits }) => (
                <Button key={sign} onPress={() => take(sign, bits)}>
                  {signOf(sign)?.label ?? sign}
                </Button>
              ))}
              {plan && !drop && <Button onPress={() => setDrop(true)}>A drop under the microscope</Button>}
            </Row>
            <Quiet>{MOST_LOOKS - taken} more at most; you may name it at any time.</Quiet>
          </Stack>
        </Tray>
      )}
      {!told ? (
        <Tray>
          <Stack $gap={10}>
            <Choice
              label="What is it?"
              value={name ?? ''}
              onChange={setName}
              options={names.map(({ id, label }) => ({ value: id, label }))}
            />
            <Choice label="How sure?" value={sure} onChange={setSure} options={SURE} />
            <Row>
              <Button look="main" isDisabled={name === null || sure === ''} onPress={tell}>
                Name it
              </Button>
            </Row>
          </Stack>
        </Tray>
      ) : (
        <Told made={made} seen={seen} name={name!} sure={Number(sure)} onNext={onNext} />
      )}
    </>
  )
}

/** What lies in a drop, moving; no words with it. */
function Drop({ plan }: { readonly plan: NonNullable<ReturnType<typeof dropOfCase>> }) {
  const { slide, fault, setFault } = useDrawnSlide(() => drawnSlide(plan), plan)
  if (fault !== null) return <p role="alert">{fault}</p>
  if (!slide) return <p role="status">A drop is put under the microscope…</p>
  return (
    <>
      <MovingField source={slide.source} onFault={setFault} />
      <Quiet>What moves, and how, is yours to judge: the tables below reckon with the other looks alone.</Quiet>
    </>
  )
}

function Told({
  made,
  seen,
  name,
  sure,
  onNext,
}: {
  readonly made: LookCase
  readonly seen: readonly Seen[]
  readonly name: string
  readonly sure: number
  readonly onNext: () => void
}) {
  const ranking = useMemo(() => rankingOf(made, seen), [made, seen])
  const right = name === made.truth.id
  const entry = ranking.entries.find(({ condition }) => condition.id === made.truth.id)
  const chosen = ranking.entries.find(({ condition }) => condition.id === name)
  const wasted = seen.filter(({ bits, best }) => bits !== undefined && best !== undefined && bits < 0.5 * best)
  const cost = (sure - (right ? 1 : 0)) ** 2
  return (
    <Tray role="status">
      <Stack $gap={8}>
        <h2>{right ? `Yes: ${made.truth.label}` : `It was ${made.truth.label}`}</h2>
        <p>
          {right
            ? sure >= 0.7
              ? 'Right, and said as surely as it was.'
              : 'Right, and said less surely than it deserved.'
            : sure >= 0.7
              ? 'Not this time, and said more surely than these looks allow.'
              : 'Not this time, and you knew that you did not know.'}{' '}
          <Quiet>Squared distance {Number(cost.toPrecision(2))}; guessing costs 0.16, knowing costs 0.</Quiet>
        </p>
        {entry && (
          <p>
            From the same looks the tables give it {Math.round(100 * entry.p)} %
            {!right && chosen ? `, and ${chosen.condition.label} ${Math.round(100 * chosen.p)} %` : ''}. What spoke for
            it:{' '}
            {entry.reasons
              .filter(({ weight }) => weight > 0)
              .slice(0, 3)
              .map(({ sign, answer }) => `${answer === 'no' ? 'not ' : ''}${signWords(sign).toLowerCase()}`)
              .join('; ') || 'nothing much'}
            .
          </p>
        )}
        {wasted.length > 0 && (
          <p>
            {wasted.map(({ sign }) => signWords(sign).toLowerCase()).join('; ')}: another look on offer would have told
            at least twice as much.
          </p>
        )}
        {!right && <Quiet>Both come again, spaced by how well you tell them.</Quiet>}
        <Row>
          <Button look="main" onPress={onNext}>
            Next case
          </Button>
        </Row>
      </Stack>
    </Tray>
  )
}
