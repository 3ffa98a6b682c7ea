import { randomSource } from '@apokinema/core/random'

/** Kinds of motion of random clips. */
export const MOTIONS = ['throw', 'fall', 'roll', 'slide', 'swing', 'tumble'] as const
export type MotionKind = (typeof MOTIONS)[number]

/** Random choices from a seed. */
export function chooser(seed: number) {
  const random = randomSource(seed)
  // The first numbers of neighbouring seeds are alike.
  for (let i = 0; i < 8; i++) random()
  return {
    between: (low: number, high: number) => low + (high - low) * random(),
    pick: <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)],
    chance: (share: number) => random() < share,
  }
}
export type Chooser = ReturnType<typeof chooser>
