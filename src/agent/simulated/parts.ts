import type { Environment } from '@/core/model'
import type { Pace } from '../driver/port'
import type { PictureMaker } from './pictures'

/** `screens: 'arrivals'` gives a screen only where a page has just come, not after each field is filled: a
 * third of the drawing. */
export type SimulatedParts = {
  environment: Environment
  pace: Pace
  seed: number
  pictures?: PictureMaker
  screens?: 'every' | 'arrivals'
  /** Nothing goes wrong by chance, only what it is told to do wrong. */
  calm?: boolean
  /** What it was told to do wrong. */ faults?: {
    factor(what: 'slow' | 'upset', environment: string): number
  }
}
