/** The other roles of a joint case, as the attempt that plays one of them sees it. */
import { describeDuration, handedOnBy, referencesIn, walkSteps, type Step } from '@/core/model'
import { StepFault, Stopped } from './fault'
import { left, MEET_LIMIT_MS, type Companion, type StepParts } from './parts'

/** What a role says, and what it hears. `missing`: roles that have not come, or names that nobody gave.
 * `over`: another role did not pass. */
export type Meeting = {
  arrives?: { point: string; visit: number }
  gives?: Record<string, string>
  needs?: string[]
  waitMs?: number
}
export type MeetingAnswer = { missing: string[]; values: Record<string, string>; over?: string }
export type Meet = (meeting: Meeting) => Promise<MeetingAnswer>

/** One question waits for its answer this long at most. */
const ASK_MS = 15_000

/** Before undo steps; no step may name it. */
const END = 'the end'

export class Rendezvous implements Companion {
  private readonly visits = new Map<string, number>()
  /** Names that other roles hand over: worth waiting for. */
  private readonly given: ReadonlySet<string>

  constructor(
    private readonly parts: StepParts,
    private readonly ask: Meet,
  ) {
    const {
      case: { roles = {} },
      role,
    } = parts.work
    this.given = new Set(
      Object.entries(roles).flatMap(([name, { steps }]) => (name === role ? [] : handedIn(steps))),
    )
  }

  /** Waits until all roles are at this point. @throws {StepFault} time-limit, with who did not come;
   * {Stopped} */
  async meet(point: string, limitMs: number): Promise<string> {
    const visit = (this.visits.get(point) ?? 0) + 1
    this.visits.set(point, visit)
    const begunMs = this.parts.pace.now()
    await this.until(
      { arrives: { point, visit } },
      limitMs,
      (missing) =>
        `${missing.join(' and ')} did not come to “${point.replaceAll('-', ' ')}” within ` +
        `${describeDuration(limitMs)}`,
    )
    const waitedMs = this.parts.pace.now() - begunMs
    return waitedMs < 1000 ? 'all are here' : `all are here; waited ${describeDuration(waitedMs)}`
  }

  /** Hands a value to the others, now. */
  async give(name: string, value: string): Promise<void> {
    this.take(await this.ask({ gives: { [name]: value } }))
  }

  /** Waits for values a step refers to that another role reads. @throws {StepFault} time-limit; {Stopped} */
  async need(step: Step, limitMs: number): Promise<void> {
    const { steps: _, ...own } = step as Step & { steps?: unknown }
    const needs = referencesIn(own).filter(
      (name) => this.given.has(name) && !(name in this.parts.scope.names),
    )
    if (needs.length > 0)
      await this.until(
        { needs },
        limitMs,
        (missing) =>
          `“${missing.join('”, “')}” was not handed over by another role within ${describeDuration(limitMs)}`,
      )
  }

  /** Waits until all roles are through: what one undoes, another may still look at. Never throws: whoever
   * does not come is told of elsewhere. */
  async end(): Promise<void> {
    await this.meet(END, Math.min(MEET_LIMIT_MS, left(this.parts))).catch(() => {})
  }

  private async until(meeting: Meeting, limitMs: number, late: (missing: string[]) => string): Promise<void> {
    const { pace, signal } = this.parts
    const untilMs = pace.now() + limitMs
    for (;;) {
      if (signal.aborted) throw new Stopped()
      const answer = await this.ask({
        ...meeting,
        waitMs: Math.max(0, Math.min(ASK_MS, untilMs - pace.now())),
      })
      this.take(answer)
      if (answer.missing.length === 0) return
      if (pace.now() >= untilMs) throw new StepFault({ kind: 'time-limit', message: late(answer.missing) })
    }
  }

  private take({ values, over }: MeetingAnswer): void {
    if (over !== undefined) throw new Stopped(over)
    for (const [name, value] of Object.entries(values)) this.parts.scope.names[name] ??= value
  }
}

const handedIn = (steps: readonly Step[]): string[] => [...walkSteps(steps)].flatMap(handedOnBy)
