/** The standard normal distribution, and the log-normal one of durations, which is given by p50 and p90. */
import type { Random } from '../execution/random'

/** The 0.9 quantile of the standard normal distribution. */
const Z90 = 1.2815515655446004

/** Standard deviation of the logarithm of a duration. */
export const logSigma = (p50Ms: number, p90Ms: number): number => Math.log(p90Ms / p50Ms) / Z90

/** Distribution function of the standard normal distribution: the rational fit of erfc in Press et al.,
 * Numerical Recipes (erfcc). Absolute error below 1.2e-7. */
export function normalCdf(z: number): number {
  const x = Math.abs(z) / Math.SQRT2
  const t = 1 / (1 + x / 2)
  const terms = [
    1.00002368, 0.37409196, 0.09678418, -0.18628806, 0.27886807, -1.13520398, 1.48851587, -0.82215223,
    0.17087277,
  ]
  const tail = t * Math.exp(-x * x - 1.26551223 + terms.reduceRight((sum, term) => (sum + term) * t, 0))
  return z >= 0 ? 1 - tail / 2 : tail / 2
}

/** A random value of the standard normal distribution (Box & Muller, 1958). */
export const randomNormal = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
