import type { ObjectClass } from '../imaging/genera.ts';
import type { Picture } from '../imaging/frame.ts';
/** How good the keeper's hands and lamp are. */
export type SlideLevel = 'clean' | 'usual' | 'hard';
export interface SlidePlan {
    readonly seed: number;
    readonly level: SlideLevel;
    readonly width: number;
    readonly height: number;
    readonly fps: number;
    readonly seconds: number;
    /** Micrometres a pixel; left out: drawn, as for 400 times. */
    readonly umPerPx?: number;
    /** Genera of dinoflagellates and how many lie in the field; left out: drawn. */
    readonly genera?: Readonly<Record<string, number>>;
    /** A single fault of the view, for clips that show just that. */
    readonly fault?: 'blur' | 'drift' | 'shake' | 'half-light' | 'flicker';
    /** A dark surround with a bright circle, as through an eyepiece; left out: drawn. */
    readonly round?: boolean;
}
export interface SlideTruthObject {
    readonly class: ObjectClass;
    readonly genus: string;
    readonly lengthUm: number;
    readonly widthUm: number;
    readonly moving: boolean;
    readonly speedUmPerS: number;
    readonly framesVisible: number;
}
export interface SlideTruth {
    readonly counts: Readonly<Record<ObjectClass, number>>;
    readonly genera: Readonly<Record<string, number>>;
    readonly leading: string | null;
    readonly perFrame: Readonly<Record<ObjectClass, number>>;
    readonly objects: readonly SlideTruthObject[];
}
/** Light taken by a whole thickness of it, red, green, blue, natural logarithm. */
type Rgb = readonly [number, number, number];
type Outline = 'oval' | 'drop' | 'blunt' | 'boat' | 'needle' | 'disc' | 'thread' | 'rough' | 'bubble';
type Motion = 'still' | 'stuck' | 'runs' | 'glides' | 'spins' | 'circles' | 'wobbles' | 'turns' | 'creeps' | 'darts';
interface Thing {
    readonly class: ObjectClass | 'sand' | 'detritus' | 'air';
    readonly genus: string;
    /** µm. */
    readonly length: number;
    readonly width: number;
    readonly outline: Outline;
    readonly takes: Rgb;
    /** Share of what it takes that lies at its rim. */
    readonly rim: number;
    readonly groove: number | null;
    /** Pale spot inside: where along the axis, from −1 to 1. */
    readonly pale: number | null;
    /** How far from the plane of focus, as additional softness in px. */
    readonly soft: number;
    readonly motion: Motion;
    readonly speed: number;
    readonly bend: readonly number[];
    readonly jelly: boolean;
    /** Places and directions, frame by frame, µm in the water. */
    readonly path: {
        readonly x: number;
        readonly y: number;
        readonly angle: number;
        readonly full: boolean;
    }[];
}
export interface SlideScene {
    readonly plan: SlidePlan;
    readonly umPerPx: number;
    readonly frames: number;
    readonly things: readonly Thing[];
    /** Where the water stands in each frame, px; and the shake of the hand. */
    readonly drift: readonly {
        readonly x: number;
        readonly y: number;
    }[];
    readonly shake: readonly {
        readonly x: number;
        readonly y: number;
    }[];
    readonly blur: number;
    readonly noise: number;
    readonly light: Rgb;
    readonly slope: readonly [number, number, number];
    readonly flicker: readonly number[];
    readonly circle: {
        readonly x: number;
        readonly y: number;
        readonly r: number;
    } | null;
    readonly coarse: number;
}
/** A field and everything in it, from a seed. */
export declare function slideScene(plan: SlidePlan): SlideScene;
/** One frame of a scene as a picture. */
export declare function slideFrame(scene: SlideScene, frame: number): Picture;
/** What a clip of the scene holds, by the rule that a keeper's count follows. */
export declare function slideTruth(scene: SlideScene): SlideTruth;
export {};
