/** A stream of numbers in 0 to 1 from a seed (mulberry32). */
export declare function chanceFrom(seed: number): Chance;
export interface Chance {
    next: () => number;
    normal: (mean?: number, sd?: number) => number;
    between: (low: number, high: number) => number;
    happens: (share: number) => boolean;
    of: (n: number, share: number) => number;
}
