/** Applications under test: where they are at each of their stages, and how to tell that they are up. */

/** What an application answers when it is up: with `status` (absent: any below 400) and with `text` somewhere
 * in it. `path` is within the application. */
export type Probe = { path: string; status?: number; text?: string }

export type Application = {
  key: string
  title: string
  /** Where it is unless a run names a stage. `{build}` stands for the label of the run's build. */
  address: string
  /** Other addresses, by the name of the stage. */
  stages: Record<string, string>
  probe: Probe | null
  /** Who answers for it: a name, and where defects of it are sent. */
  owner: string
  mail: string
}

const BUILD = '{build}'

/** The address at a stage for a build; at a stage that the application does not have, the usual one. */
export const addressAt = (
  { address, stages }: Pick<Application, 'address' | 'stages'>,
  { stage, build }: { stage?: string | undefined; build: string },
): string =>
  ((stage !== undefined && Object.hasOwn(stages, stage) && stages[stage]) || address).replace(BUILD, build)

/** Names of all stages, sorted. */
export const stagesOf = (applications: readonly Pick<Application, 'stages'>[]): string[] =>
  [...new Set(applications.flatMap(({ stages }) => Object.keys(stages)))].sort()

/** Whether the address of an application is another one with each build. */
export const hasBuild = (address: string): boolean => address.includes(BUILD)

/** @returns why an address cannot be that of an application, as a sentence; `undefined` when it can */
export function addressProblem(address: string): string | undefined {
  const plain = address.replace(BUILD, 'build')
  if (!URL.canParse(plain)) return `“${address}” is no address; one looks like https://shop.example/en.`
  const { protocol, search, hash, username, password } = new URL(plain)
  if (protocol !== 'http:' && protocol !== 'https:') return 'An address begins with http:// or https://.'
  if (search !== '' || hash !== '') return 'An address has neither “?” nor “#”: steps add their own.'
  if (username !== '' || password !== '')
    return 'An address holds no password: keep it as a secret, and use that in a step.'
  return undefined
}

/** @param answer of the application @returns why it does not count as up, as the end of a sentence;
 * `undefined` when it does */
export function probeProblem(
  answer: { status: number; text: string },
  { status, text }: Omit<Probe, 'path'>,
): string | undefined {
  if (status === undefined ? answer.status >= 400 : answer.status !== status)
    return status === undefined
      ? `it answers ${answer.status}`
      : `it answers ${answer.status}, and ${status} was expected`
  if (text !== undefined && !answer.text.includes(text)) return `“${text}” is not in its answer`
  return undefined
}
