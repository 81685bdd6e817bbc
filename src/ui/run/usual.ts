import type { StartOptions } from '@/core/view-models'

/** What is chosen when nobody has chosen yet: real environments before simulated ones, and of those what most
 * seats serve. */
export function usualEnvironments(environments: StartOptions['environments']): string[] {
  const served = environments.filter(({ seats }) => seats > 0)
  const real = served.filter(({ simulated }) => !simulated)
  const among = real.length > 0 ? real : served
  const most = Math.max(...among.map(({ seats }) => seats))
  return among.filter(({ seats }) => seats === most).map(({ key }) => key)
}
