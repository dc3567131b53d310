// Molar masses and the share of a salt that is the species wanted.

/** Standard atomic weights, g/mol. @source IUPAC abridged standard atomic weights 2021 */
const ATOMIC_WEIGHT: Readonly<Record<string, number>> = {
  H: 1.008,
  B: 10.81,
  C: 12.011,
  N: 14.007,
  O: 15.999,
  F: 18.998,
  Na: 22.99,
  Mg: 24.305,
  Al: 26.982,
  Si: 28.085,
  P: 30.974,
  S: 32.06,
  Cl: 35.45,
  K: 39.098,
  Ca: 40.078,
  Mn: 54.938,
  Fe: 55.845,
  Cu: 63.546,
  Zn: 65.38,
  Br: 79.904,
  Sr: 87.62,
  Mo: 95.95,
  I: 126.9,
  Ba: 137.33,
  La: 138.91,
}

/** Counts of each element in a formula such as "CuSO4.5H2O", "CuSO4·5H2O" or "Ca(OH)2". */
function elements(formula: string): Map<string, number> {
  const total = new Map<string, number>()
  for (const piece of formula.split(/[.·]/)) {
    const lead = /^(\d+)(.*)$/.exec(piece)
    const times = lead ? Number(lead[1]) : 1
    for (const [element, count] of group(lead ? lead[2]! : piece, formula)) {
      total.set(element, (total.get(element) ?? 0) + times * count)
    }
  }
  return total
}

function group(text: string, whole: string): Map<string, number> {
  const stack: Map<string, number>[] = [new Map()]
  const token = /([A-Z][a-z]?)(\d*)|(\()|\)(\d*)/y
  let at = 0
  while (at < text.length) {
    token.lastIndex = at
    const match = token.exec(text)
    if (!match) throw new RangeError(`molarMass: cannot read "${whole}" at "${text.slice(at)}"`)
    at = token.lastIndex
    if (match[1]) add(stack.at(-1)!, match[1], Number(match[2] || 1))
    else if (match[3]) stack.push(new Map())
    else {
      const inner = stack.pop()
      if (!inner || stack.length === 0) throw new RangeError(`molarMass: unbalanced brackets in "${whole}"`)
      for (const [element, count] of inner) add(stack.at(-1)!, element, count * Number(match[4] || 1))
    }
  }
  if (stack.length !== 1) throw new RangeError(`molarMass: unbalanced brackets in "${whole}"`)
  return stack[0]!
}
const add = (map: Map<string, number>, key: string, count: number) => map.set(key, (map.get(key) ?? 0) + count)

/** Molar mass, g/mol. @throws RangeError on an unknown element or an unreadable formula. */
export function molarMass(formula: string): number {
  let mass = 0
  for (const [element, count] of elements(formula)) {
    const weight = ATOMIC_WEIGHT[element]
    if (weight === undefined) throw new RangeError(`molarMass: no atomic weight for "${element}" in "${formula}"`)
    mass += weight * count
  }
  return mass
}

/** Species written "NO3-N" means nitrogen in nitrate: the part after the dash is what is weighed. */
const weighed = (species: string): string => (species.includes('-') ? species.split('-')[1]! : species)

/** The element a species is followed by: the one that is not O or H, or the only one. */
function keyElement(species: string): string {
  const found = [...elements(species).keys()]
  return found.find((element) => element !== 'O' && element !== 'H') ?? found[0]!
}

export interface SpeciesShare {
  readonly saltGPerMol: number
  readonly speciesGPerMol: number
  /** Mass of species per mass of salt, 0..1. CuSO₄·5H₂O and Cu give 0.2545. */
  readonly massFraction: number
}

/**
 * Share of a salt's mass that is the species, matched by its key element (NO3 by N, SiO2 by Si, PO4 by P).
 * @throws RangeError when the salt does not hold that element.
 */
export function speciesShare(salt: string, species: string): SpeciesShare {
  const target = weighed(species)
  const key = keyElement(target)
  const inSalt = elements(salt).get(key)
  if (!inSalt) throw new RangeError(`speciesShare: ${salt} holds no ${key}`)
  const perSpecies = elements(target).get(key)!
  const saltGPerMol = molarMass(salt)
  const speciesGPerMol = molarMass(target)
  return { saltGPerMol, speciesGPerMol, massFraction: (speciesGPerMol * inSalt) / perSpecies / saltGPerMol }
}

/** Alkalinity equivalents per mole of a salt. */
const EQUIVALENTS: Readonly<Record<string, number>> = {
  NaHCO3: 1,
  KHCO3: 1,
  NaOH: 1,
  KOH: 1,
  Na2CO3: 2,
  K2CO3: 2,
  CaCO3: 2,
  'Ca(OH)2': 2,
  CaO: 2,
  MgCO3: 2,
  'Na2CO3.H2O': 2,
  'Na2CO3.10H2O': 2,
}

/** Grams of an alkalinity salt that raise `litres` of water by `dkhRise`. `meqPerDkh` is 0.357 in this product. */
export function alkalinitySaltMass(salt: string, dkhRise: number, litres: number, meqPerDkh: number): number {
  const equivalents = EQUIVALENTS[salt.replaceAll('·', '.')]
  if (!equivalents) throw new RangeError(`alkalinitySaltMass: ${salt} is not a known alkalinity salt`)
  return (dkhRise * litres * meqPerDkh * molarMass(salt)) / (1000 * equivalents)
}
