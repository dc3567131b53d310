// What the commands of the eyes are asked with, and how they read a picture.
import { readFileSync } from 'node:fs'
import { decode } from 'fast-png'
import type { Picture } from '../src/imaging/frame.ts'

const args = process.argv.slice(2)
/** Value after `--name`. */
export const given = (name: string): string | undefined => {
  const at = args.indexOf(`--${name}`)
  return at < 0 ? undefined : args[at + 1]
}
export const asked = (name: string): boolean => args.includes(`--${name}`)
/** The folder, where one was named. */
export const folder: string | undefined = args[0]?.startsWith('--') === true ? undefined : args[0]

/** @throws Error where it is no colour picture of eight bits. */
export function readPicture(path: string): Picture {
  const { data, width, height, channels, depth } = decode(readFileSync(path))
  if (depth !== 8 || (channels !== 3 && channels !== 4)) throw new Error(`${path}: not a colour picture of eight bits`)
  return { width, height, channels, data: data as Uint8Array }
}
