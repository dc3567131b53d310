// The doors of a first run: each leads to its first useful answer, and how many presses and fields that takes is counted.
import { expect, test, type Page } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

interface Door {
  readonly door: RegExp
  /** From the vessel on, what is pressed until the answer stands there. */
  readonly then: (keeper: Keeper, page: Page) => Promise<void>
  readonly answer: RegExp
  /** Presses and fields at most, the four fields of the vessel among them. */
  readonly most: number
}
const DOORS: readonly Door[] = [
  {
    door: /^Then find out/,
    then: async (keeper) => keeper.press('Look at it'),
    answer: /The look that tells most/,
    most: 9,
  },
  {
    door: /^Find out: Something looks wrong/,
    then: async (keeper) => keeper.press('Look at it'),
    answer: /The look that tells most/,
    most: 9,
  },
  {
    door: /^Find out: A film/,
    then: async (keeper) => keeper.press('Look at it'),
    answer: /The look that tells most/,
    most: 9,
  },
  {
    door: /^Announce it/,
    then: async (keeper, page) => {
      await keeper.press('Note the delivery')
      await expect(page).toHaveURL(/\/arrivals\/[0-9a-f-]{20,}$/)
      keeper.presses++
      await page.getByRole('link', { name: 'Compare the methods' }).click()
    },
    answer: /Use it and go to the tank/,
    most: 11,
  },
  {
    door: /^Compare schools/,
    then: async (keeper) => keeper.choose('To come', 'Gobies, blennies, firefish, jawfish, cardinalfish, dottybacks'),
    answer: /Suggested here/,
    most: 9,
  },
]

for (const { door, then, answer, most } of DOORS)
  test(`the door “${door.source.slice(1)}” leads to its answer`, { tag: '@whole' }, async ({ page }) => {
    const keeper = new Keeper(page, '2026-04-03T18:10:00Z')
    await keeper.begin()
    keeper.presses++
    await page.getByRole('link', { name: door }).first().click()
    await keeper.fill('Name', 'Box')
    for (const side of [/^Length/, /^Width/, /^Height/])
      await keeper.fill(side, side.source === '^Length' ? '60' : '36')
    await keeper.tick('I have looked at it')
    await keeper.press('Put it on the shelf')
    await expect(page).not.toHaveURL(/\/vessels\/new/)
    await then(keeper, page)
    await keeper.said(answer)
    console.log(`${door.source.slice(1)}: ${keeper.presses} presses and fields`)
    expect(keeper.presses).toBeLessThanOrEqual(most)
  })
