/** A person of a live session, as their page speaks for them: over its line, with mouse and keys only. */
import { setTimeout } from 'node:timers/promises'
import { WebSocket } from 'ws'
import type { LiveNotice, LiveOrder, LiveWord, RecordedStep } from '@/core/live'
import { stepForm } from '@/core/model/editing'
import type { HeldKey, MouseButton, Step, StepOf, Target } from '@/core/model'

type Word = LiveWord | LiveNotice
type Heard<S extends Word['say']> = Extract<Word, { say: S }>
export type Answer = { ok: true } | { ok: false; why: string }

const ANSWER_MS = 10_000
const RECORDED_MS = 3000
const SETTLED_MS = 250
/** The browser is there, and at its entry state. */
const OPENS_MS = 60_000
const TRIES = 40
const PAUSE_MS = 100

export class LivePerson {
  private readonly heard = new Map<Word['say'], Word>()
  private readonly line: WebSocket
  private nextStep = 1

  private constructor(url: string, headers: Record<string, string>) {
    this.line = new WebSocket(url, { headers })
    this.line.on('message', (data, isBinary) => {
      if (isBinary) return
      const word = JSON.parse(String(data as Buffer)) as Word
      this.heard.set(word.say, word)
    })
    this.line.on('error', () => {})
  }

  /** @throws {Error} no browser came in time */
  static async join(base: string, cookie: string, attemptId: string): Promise<LivePerson> {
    const url = `${base.replace(/^http/, 'ws')}/api/live-sessions/${attemptId}/line`
    const person = new LivePerson(url, { cookie, origin: base })
    await person.until('state', () => true, OPENS_MS)
    return person
  }

  /** Its agent has undone what was made, and closed the browser. */
  async leave(): Promise<void> {
    this.heard.delete('agent')
    this.say({ do: 'end', undo: true })
    await this.until('agent', ({ here }) => !here, OPENS_MS).catch(() => {})
    this.line.close()
  }

  get values(): Record<string, string> {
    return this.newest('state')?.values ?? {}
  }

  /** What was recorded since the last time: it comes bit by bit. @param verb what should be among it */
  async takeRecorded(verb: Step['verb'] | undefined): Promise<RecordedStep[]> {
    const isThere = ({ steps }: Heard<'recorded'>) => steps.some(({ step }) => step.verb === verb)
    if (verb) await this.until('recorded', isThere, RECORDED_MS).catch(() => {})
    // a text comes letter by letter
    for (let before = ''; ; before = JSON.stringify(this.newest('recorded'))) {
      await setTimeout(SETTLED_MS)
      if (before === JSON.stringify(this.newest('recorded'))) break
    }
    const steps = this.newest('recorded')?.steps ?? []
    this.say({ do: 'forget' })
    await this.until('recorded', ({ steps: left }) => left.length === 0, ANSWER_MS)
    return steps
  }

  /** The machine carries out a step, as with “One step”. */
  async play(step: Step): Promise<Answer> {
    const id = `s${this.nextStep++}`
    this.line.send(JSON.stringify({ do: 'play', steps: [{ id, form: stepForm(step) }] }))
    const { mark, failure } = await this.until(
      'step',
      (word) => word.id === id && word.mark !== 'running',
      60_000,
    )
    await this.until('state', ({ working }) => !working, ANSWER_MS)
    return mark === 'passed' ? { ok: true } : { ok: false, why: failure?.message ?? mark }
  }

  /** Does by hand what a step says. */
  async do(step: Step): Promise<void> {
    switch (step.verb) {
      case 'open':
        this.say({ do: 'open', address: step.address })
        return this.rest()
      case 'go':
        this.say({ do: 'go', to: step.to })
        return this.rest()
      case 'click':
        return this.click(step.on, step)
      case 'type':
        return this.type(step)
      case 'choose':
        return this.choose(step)
      case 'press':
        if (step.on) await this.click(step.on, {})
        return this.press(step.key)
      case 'hover':
        return this.mouse('move', await this.middle(step.on))
      case 'dialog':
        return this.say({ do: 'dialog', answer: step.answer, ...(step.text && { text: step.text }) })
      case 'window':
        return this.say({ do: 'tab', index: (this.newest('state')?.windows.length ?? 1) - 1 })
      default:
        throw new Error(`nobody does “${step.verb}” by hand here`)
    }
  }

  private async type({ in: target, value }: StepOf<'type'>): Promise<void> {
    await this.click(target, {})
    await this.press('Control+a')
    if (value === '') return this.press('Delete')
    for (const letter of value) this.key(letter, [])
  }

  private async choose({ in: target, value }: StepOf<'choose'>): Promise<void> {
    const at = await this.middle(target)
    const facts = await this.pick(at)
    if (facts?.type === 'checkbox' || facts?.type === 'radio') {
      if (facts.checked !== (value === 'yes')) await this.click(target, {})
      return
    }
    this.heard.delete('list')
    await this.click(target, {})
    const { list } = await this.until('list', (word) => word.list !== null, ANSWER_MS)
    const option = list!.options.find((one) => one.label === value || one.value === value)
    if (!option) throw new Error(`“${value}” is not in the list`)
    this.say({ do: 'choose', values: [option.value] })
  }

  async pick(at: { x: number; y: number }): Promise<Heard<'picked'>['facts']> {
    this.heard.delete('picked')
    this.say({ do: 'pick', ...at })
    return (await this.until('picked', () => true, ANSWER_MS)).facts
  }

  private async click(
    target: Target,
    {
      times = 1,
      button = 'left',
      with: held = [],
    }: { times?: number; button?: MouseButton; with?: HeldKey[] },
  ): Promise<void> {
    const at = await this.middle(target)
    this.mouse('move', at)
    for (let clicks = 1; clicks <= times; clicks++)
      for (const type of ['down', 'up'] as const)
        this.say({ do: 'mouse', type, ...at, button, clicks, with: held })
    await this.rest()
  }

  private mouse(type: 'move', at: { x: number; y: number }): void {
    this.say({ do: 'mouse', type, ...at, button: 'none', clicks: 0, with: [] })
  }

  private press(written: string): void {
    const names = written.split('+')
    this.key(names.at(-1)!, names.slice(0, -1) as HeldKey[])
  }

  private key(key: string, held: HeldKey[]): void {
    for (const one of held) this.say({ do: 'key', type: 'down', key: one, code: '', with: held })
    for (const type of ['down', 'up'] as const) this.say({ do: 'key', type, key, code: '', with: held })
    for (const one of held) this.say({ do: 'key', type: 'up', key: one, code: '', with: [] })
  }

  /** As a person looks until it is there; what is out of sight is scrolled to. */
  private async middle(target: Target): Promise<{ x: number; y: number }> {
    for (let tries = 0; tries < TRIES; tries++) {
      this.heard.delete('located')
      this.say({ do: 'locate', target })
      const { count, box } = await this.until('located', () => true, ANSWER_MS)
      if (count === 1 && box) {
        const at = { x: box.x + box.w / 2, y: box.y + box.h / 2 }
        if (at.y > 10 && at.y < 790) return at
        this.say({ do: 'wheel', x: 640, y: 400, dx: 0, dy: at.y - 400 })
      }
      await setTimeout(PAUSE_MS)
    }
    throw new Error(`${JSON.stringify(target)} is not there once`)
  }

  /** What was done is in the page. */
  private async rest(): Promise<void> {
    this.heard.delete('located')
    this.say({ do: 'locate', target: { css: 'body' } })
    await this.until('located', () => true, ANSWER_MS).catch(() => {})
  }

  private newest<S extends Word['say']>(say: S): Heard<S> | undefined {
    return this.heard.get(say) as Heard<S> | undefined
  }

  private async until<S extends Word['say']>(
    say: S,
    is: (word: Heard<S>) => boolean,
    limitMs: number,
  ): Promise<Heard<S>> {
    const end = performance.now() + limitMs
    for (;;) {
      const word = this.newest(say)
      if (word && is(word)) return word
      if (performance.now() > end) {
        const problem = this.newest('problem')
        throw new Error(`no “${say}” came in time${problem ? `: ${problem.message}` : ''}`)
      }
      await setTimeout(15)
    }
  }

  private say(order: LiveOrder): void {
    this.line.send(JSON.stringify(order))
  }
}
