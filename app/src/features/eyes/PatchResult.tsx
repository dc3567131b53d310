// What covers a patch, in its first and in its later picture; kept by its name, with its marks, and in a campaign's series.
import { campaignsCovering, OFF_FIELD, PATCH_COVER, type PatchArm, type PhotoEntry, type Protocol } from '@brinvo/core'
import { mapped, type CoverAnswer } from '@brinvo/core/pictures'
import { useState, type ReactNode } from 'react'
import { v7 } from 'uuid'
import { photosOf } from '../../data/photos.ts'
import { useDatabase, useRecord, type Draft } from '../../data/queries.tsx'
import { Button, DayTable, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { sentenceCase } from '../../design/words.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { LaidOver } from './LaidOver.tsx'
import { CLASSES, signed, type ClassId, type Point } from './patchClasses.ts'
import type { Taken } from './openPicture.ts'
import type { PatchScene } from '../../parts/slides/standIn.ts'

/** Points that a cover is off by in nine of ten known ones; outlines two kinds dispute come on top. Measured: npm run patches. */
const OFF = 3
const offOf = (doubt: number): number => Math.hypot(OFF, 50 * doubt)
const percent = (value: number, doubt: number): string => `${value.toFixed(0)} ± ${offOf(doubt).toFixed(0)} %`

export function PatchResult({
  first,
  later,
  answer,
  vesselId,
  marks,
  truth,
  naming,
  name,
  arm,
}: {
  readonly first: Taken
  readonly later: Taken | null
  readonly answer: CoverAnswer
  readonly vesselId: string
  readonly marks: {
    readonly corners: readonly Point[]
    readonly samples: Readonly<Partial<Record<ClassId, readonly Point[]>>>
    readonly card: { readonly a: Point | null }
  }
  /** What a drawn patch holds; null where it is a real one. */
  readonly truth: PatchScene['truth'] | null
  /** Where the patch is named. */
  readonly naming: ReactNode
  readonly name: string
  readonly arm: PatchArm | null
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { mode } = useDatabase()
  const save = useSave()
  const [kept, setKept] = useState(false)
  const campaigns = campaignsCovering(record, vesselId, nowMs)
  const lost = later !== null && answer.b === null
  const newest = answer.b ?? answer.a
  const grownOf = (shares: Readonly<Record<string, number>>) => 100 * (1 - (shares['clean'] ?? 0))
  const grown = grownOf(newest.shares)
  const ids = CLASSES.filter(({ id }) => answer.a.shares[id] !== undefined)
  const { corners, samples, card } = marks
  const about = { vesselId, piece: name, ...(arm === null ? {} : { arm }) }
  const tally = (cover: CoverAnswer['a'], atMs: number): Draft =>
    ({
      kind: 'tally',
      ...about,
      atMs,
      measure: PATCH_COVER,
      values: {
        ...Object.fromEntries(ids.map(({ id }) => [id, Math.round(1000 * (cover.shares[id] ?? 0)) / 10])),
        [OFF_FIELD]: Math.round(10 * offOf(cover.doubt)) / 10,
      },
      note: ids.map(({ id, label }) => `${label} ${Math.round(100 * (cover.shares[id] ?? 0))} %`).join(', '),
    }) as unknown as Draft
  const picture = async (
    { picture: { width, height }, blob, takenMs }: Taken,
    patch: NonNullable<PhotoEntry['patch']>,
    words: string,
  ): Promise<Draft> => {
    const photoId = v7()
    await photosOf(mode).put(photoId, blob)
    return {
      kind: 'photo',
      photoId,
      mime: 'image/jpeg',
      width,
      height,
      bytes: blob.size,
      vesselId,
      atMs: takenMs,
      patch,
      note: words,
    } as Draft
  }
  const keep = async () => {
    const before = active.some(
      (entry) => entry.kind === 'photo' && entry.photoId === first.photoId && entry.patch?.name === name,
    )
    const drafts: Draft[] = []
    const named = { name, ...(arm === null ? {} : { arm }) }
    // The first one carries all marks: by them the next is measured.
    if (!before)
      drafts.push(
        await picture(
          first,
          {
            ...named,
            corners: corners.map(([x, y]) => [x, y]),
            samples: CLASSES.flatMap(({ id }) =>
              (samples[id] ?? []).length === 0 ? [] : [{ kind: id, at: samples[id]!.map(([x, y]) => [x, y]) }],
            ) as never,
            ...(card.a === null ? {} : { neutral: [...card.a] }),
          },
          `${name}: ${Math.round(grownOf(answer.a.shares))} % grown over`,
        ),
        tally(answer.a, first.takenMs),
      )
    if (later && answer.b) {
      const { width, height } = first.picture
      const moved = corners.map(([x, y]) => mapped(answer.registration.transform, x, y, width, height))
      drafts.push(
        await picture(
          later,
          {
            ...named,
            corners: moved.map(([x, y]) => [
              Math.round(Math.min(later.picture.width - 1, Math.max(0, x))),
              Math.round(Math.min(later.picture.height - 1, Math.max(0, y))),
            ]),
          },
          `${name}: ${Math.round(grownOf(answer.b.shares))} % grown over`,
        ),
        tally(answer.b, later.takenMs),
      )
    }
    drafts.push(
      ...campaigns.map(
        ({ course, measure }) =>
          ({
            kind: 'tally',
            vesselId,
            courseId: course.id,
            measure: measure.id,
            values: { points: Math.round(grown), [OFF_FIELD]: Math.round(10 * offOf(newest.doubt)) / 10 },
          }) as unknown as Draft,
      ),
    )
    if (await save(drafts, `${name} is on the ledger.`)) setKept(true)
  }
  return (
    <Tray role="region" aria-label="What covers the patch">
      <Stack>
        <h2>{Math.round(grown)} % grown over</h2>
        {lost && (
          <p role="alert">
            The later picture was not recognised as the same place ({answer.registration.agree} of{' '}
            {answer.registration.tried} details agree): only the first was measured. Is it the same frame, and not too
            far turned? Measured by itself it needs its own marks.
          </p>
        )}
        <DayTable>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">First</th>
              {answer.b && <th scope="col">Later</th>}
              {answer.b && <th scope="col">Change</th>}
            </tr>
          </thead>
          <tbody>
            {ids.map(({ id, label }) => {
              const [a, b] = [100 * (answer.a.shares[id] ?? 0), 100 * (answer.b?.shares[id] ?? 0)]
              return (
                <tr key={id}>
                  <td>{sentenceCase(label)}</td>
                  <td>{percent(a, answer.a.doubt)}</td>
                  {answer.b && <td>{percent(b, answer.b.doubt)}</td>}
                  {answer.b && <td>{`${signed(b - a)} points`}</td>}
                </tr>
              )
            })}
          </tbody>
        </DayTable>
        <Quiet>
          {corners.length === 0 ? 'The whole picture was measured. ' : ''}The doubt is what it was off by on pictures
          with known cover, and the outlines that two kinds would dispute.
          {newest.apart > 0.005 ? ` ${(100 * newest.apart).toFixed(0)} % under something else, left out.` : ''}
        </Quiet>
        {later && answer.b && <LaidOver first={first} later={later} place={answer.registration.transform} />}
        {truth ? (
          <Well>
            Drawn were {ids.map(({ id, label }) => `${label} ${Math.round(100 * (truth.first[id] ?? 0))} %`).join(', ')}
            ; later {ids.map(({ id }) => `${Math.round(100 * (truth.later[id] ?? 0))} %`).join(', ')}. A practice patch
            is not kept.
          </Well>
        ) : (
          <>
            {naming}
            {campaigns.map(({ course, measure }) => (
              <Quiet key={`${course.id} ${measure.id}`}>
                Goes to “{measure.title}” of {(course.body.protocol as unknown as Protocol).title}.
              </Quiet>
            ))}
            <Row $gap={12}>
              <Button look="main" isDisabled={kept || name === ''} onPress={() => void keep()}>
                {kept ? 'It is on the ledger' : 'Keep the measure and its pictures'}
              </Button>
              {name === '' && <Quiet>It needs a name first.</Quiet>}
            </Row>
          </>
        )}
      </Stack>
    </Tray>
  )
}
