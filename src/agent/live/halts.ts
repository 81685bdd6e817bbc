/** Where steps that are carried out are held until a person has them go on: before a step that has a stop,
 * before each of them, or before a recovery rule puts a failure right. */
import { describeStep, type Condition, type Routine, type Step } from '@/core/model'
import type { Held, LiveOrder, PlacedStop, Stop } from '@/core/live'
import type { Failure } from '@/core/execution'
import { StepFault } from '../interpreter/fault'
import { Question } from './question'

type Answer = Omit<Extract<LiveOrder, { do: 'go-on' }>, 'do'> | 'stop'
type Asked = { step: Step; stops?: readonly PlacedStop[] }

export class Halts {
  private readonly held: Question<Held, Answer>
  private stops = new Map<Step, Stop & { reached: number }>()
  private stepping = false
  /** Steps at this depth or further in are not held. */
  private outOf: number | undefined
  /** Of the step that was held last. */
  private depth = 0

  /** @param tell who looks, what is held; `null`: nothing
   * @param holds whether a condition is so now
   * @param routines those that steps may use */
  constructor(
    tell: (held: Held | null) => void,
    private readonly holds: (condition: Condition) => Promise<boolean>,
    private readonly routines: readonly Routine[] = [],
  ) {
    this.held = new Question(tell)
  }

  get isOpen(): boolean {
    return this.held.isOpen
  }

  sayOpen = (): void => this.held.sayOpen()
  take = (answer: Answer): boolean => this.held.take(answer)

  /** Whether what comes after the steps that were held is to be held: a person wanted out of them. */
  get isLeft(): boolean {
    return this.outOf !== undefined
  }

  begin(steps: readonly Asked[]): void {
    this.stepping = false
    this.outOf = undefined
    const placed = steps.flatMap(({ step, stops = [] }) =>
      stops.flatMap(({ at, ...stop }) => {
        const within = this.stepAt(step, at)
        return within ? [[within, { ...stop, reached: 0 }] as const] : []
      }),
    )
    this.stops = new Map(placed)
  }

  /** Whether a step is reached that has a stop now. */
  async isAt(step: Step): Promise<boolean> {
    const stop = this.stops.get(step)
    if (!stop || ++stop.reached < (stop.from ?? 1)) return false
    // what cannot be judged is looked at by a person
    return !stop.when || (await this.holds(stop.when).catch(() => true))
  }

  /** Before each step within another one. @throws {StepFault} it is not to go on */
  async before(step: Step, within: string): Promise<void> {
    const depth = within.split('.').length
    const isOut = this.outOf !== undefined && depth < this.outOf
    if (!(await this.isAt(step)) && !this.stepping && !isOut) return
    this.depth = depth
    await this.ask({ words: inWords(step) })
  }

  /** @returns whether the rule is to put it right. @throws {StepFault} */
  async beforeRule(failure: Failure, rule: string, step: Step): Promise<boolean> {
    return (await this.ask({ words: inWords(step), failure: failure.message, rule })).recover
  }

  /** A step within another, by its path in the form of that. */
  private stepAt(step: Step, path: readonly (string | number)[]): Step | undefined {
    const [name, place, ...rest] = path
    if (name === undefined) return step
    const list = this.listIn(step, name)
    const inner = typeof place === 'number' ? list[place] : undefined
    return inner && this.stepAt(inner, rest)
  }

  private listIn(step: Step, name: string | number): readonly Step[] {
    if (name === 'else' && step.verb === 'if') return step.otherwise
    if (name === 'routine' && step.verb === 'use')
      return this.routines.find(({ key }) => key === step.routine)?.steps ?? []
    return name === 'steps' && 'steps' in step ? step.steps : []
  }

  private async ask(held: Held): Promise<Exclude<Answer, 'stop'>> {
    const answer = await this.held.ask(held)
    if (answer === 'stop') throw stopped()
    this.stepping = answer.stepping
    this.outOf = answer.out ? this.depth : undefined
    return answer
  }
}

function stopped(): StepFault {
  const fault = new StepFault({ kind: 'script', message: 'stopped here by who steers' })
  fault.attended = true // no rule is to put that right
  return fault
}

function inWords(step: Step): string {
  const { verb, object, detail } = describeStep(step)
  return [verb, object, detail].filter(Boolean).join(' ')
}
