// Natural sea water of 35 ppt as the world fills its tanks: set down apart from what the reports are judged by.

/** mg/L at 35 ppt; share: error of one figure; limit: below this the method sees nothing. @source Millero and others 2008 */
export const standard: readonly {
  readonly symbol: string
  readonly mgPerL: number
  readonly share: number
  readonly limit: number
}[] = [
  ['Na', 11034, 0.02, 5],
  ['Cl', 19805, 0.02, 5],
  ['SO4', 2776, 0.03, 2],
  ['Mg', 1314, 0.025, 0.5],
  ['Ca', 421, 0.02, 0.5],
  ['K', 408, 0.025, 0.5],
  ['Sr', 8.13, 0.03, 0.005],
  ['B', 4.6, 0.03, 0.005],
  ['Br', 68.8, 0.03, 0.05],
  ['F', 1.33, 0.04, 0.02],
  ['I', 0.06, 0.1, 0.002],
  ['Si', 0.06, 0.05, 0.004],
  ['P', 0.02, 0.08, 0.003],
  ['Li', 0.18, 0.05, 0.002],
  ['Mo', 0.0105, 0.1, 0.0005],
  ['Ba', 0.01, 0.1, 0.0005],
  ['Rb', 0.12, 0.08, 0.001],
  ['V', 0.0015, 0.15, 0.0003],
  ['Ni', 0.0004, 0.2, 0.0005],
  ['Mn', 0.0003, 0.2, 0.0004],
  ['Co', 0.00005, 0.2, 0.0002],
  ['Zn', 0.002, 0.2, 0.001],
  ['Fe', 0.001, 0.2, 0.0008],
  ['Cu', 0.0003, 0.2, 0.0005],
  ['Al', 0.001, 0.2, 0.001],
  ['Sn', 0.00002, 0.2, 0.0005],
  ['Pb', 0.00001, 0.2, 0.0003],
  ['Cd', 0.00005, 0.2, 0.0002],
  ['Hg', 0.00001, 0.2, 0.0002],
  ['Cr', 0.0002, 0.2, 0.0004],
].map(([symbol, mgPerL, share, limit]) => ({
  symbol: symbol as string,
  mgPerL: mgPerL as number,
  share: share as number,
  limit: limit as number,
}))
