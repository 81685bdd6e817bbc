/** Where a failure happens and where it does not, and since when: in sentences, for whoever has to mend
 * it. */

/** Results of one case on an environment with a build. `firstMs`: when the first of them ended. */
export type TriedWith = { environment: string; build: string; failed: number; of: number; firstMs: number }

/** A build that is known to be there, and since when. */
export type KnownBuild = { build: string; atMs: number }

const PLACES_MOST = 8

/** @param tried of the case with the failure, on all environments, with all builds that are looked at
 * @param here where it failed: the environment's title as in `tried`, and the build
 * @param dateOf a moment as people read it
 * @param known builds, whether the case ran with them or not */
export function occursWords(
  tried: readonly TriedWith[],
  here: { environment: string; build: string },
  dateOf: (ms: number) => string,
  known: readonly KnownBuild[] = [],
): string {
  const now = tried.filter(({ build }) => build === here.build)
  const own = now.find(({ environment }) => environment === here.environment)
  if (!own || own.failed === 0) return ''
  const others = now.filter((one) => one !== own)
  const [bad, good] = [others.filter(({ failed }) => failed > 0), others.filter(({ failed }) => failed === 0)]
  return [
    `${howOften(own)} on ${own.environment} with build ${here.build}.`,
    ...(bad.length > 0
      ? [`Fails too on ${listed(bad.map((one) => `${one.environment} (${one.failed} of ${one.of})`))}.`]
      : []),
    ...(good.length > 0
      ? [`Does not fail on ${listed(good.map((one) => `${one.environment} (${timesOf(one.of)})`))}.`]
      : []),
    sinceWhen(tried, here, dateOf, known),
  ].join(' ')
}

/** From the builds on the same environment, in the order in which they came there. */
function sinceWhen(
  tried: readonly TriedWith[],
  here: { environment: string; build: string },
  dateOf: (ms: number) => string,
  known: readonly KnownBuild[],
): string {
  const builds = tried
    .filter(({ environment }) => environment === here.environment)
    .toSorted((a, b) => a.firstMs - b.firstMs)
  const at = builds.findIndex(({ build }) => build === here.build)
  const good = builds.slice(0, at).findLastIndex(({ failed }) => failed === 0)
  const first = builds[good + 1]!
  const since = `First seen there with build ${first.build}, ${dateOf(first.firstMs)}`
  if (good < 0) return `${since}; no earlier build is known to be good there.`
  const own = new Set(builds.map(({ build }) => build))
  const others = [...known, ...tried.map(({ build, firstMs }) => ({ build, atMs: firstMs }))]
  const between = buildsBetween(builds[good]!, first, others).filter((build) => !own.has(build))
  const notRun = between.length === 0 ? '' : `, and not run there with ${listed(between)} between them`
  return `${since}; good there with build ${builds[good]!.build} (${timesOf(builds[good]!.of)})${notRun}.`
}

/** Those that came after one and before another, each once, in their order. A build comes when it is known
 * first, which may be long before a case runs with it. */
function buildsBetween(good: TriedWith, bad: TriedWith, all: readonly KnownBuild[]): string[] {
  const came = new Map<string, number>()
  for (const { build, atMs } of [
    ...all,
    ...[good, bad].map(({ build, firstMs }) => ({ build, atMs: firstMs })),
  ])
    came.set(build, Math.min(atMs, came.get(build) ?? Infinity))
  const [after, before] = [came.get(good.build)!, came.get(bad.build)!]
  return [...came]
    .filter(([, atMs]) => atMs > after && atMs < before)
    .toSorted(([, a], [, b]) => a - b)
    .map(([build]) => build)
}

const timesOf = (count: number) => (count === 1 ? 'once' : `${count} times`)
function howOften({ failed, of }: Pick<TriedWith, 'failed' | 'of'>): string {
  if (of === 1) return 'Failed the one time it ran'
  return failed === of ? `Fails each time (${of} of ${of})` : `Fails ${failed} of ${of} times`
}

function listed(words: readonly string[]): string {
  const shown = words.slice(0, PLACES_MOST)
  const more = words.length - shown.length
  return more === 0 ? shown.join(', ') : `${shown.join(', ')} and ${more} more`
}
