/** One live session: the agent's line, those of the people who look, and who of them drives. */
import { readFrame, type LiveNotice, type LiveOrder, type LiveWord } from '@/core/live'
import { readAgent, readPerson, type PersonSays, type PlayRequest } from './bodies'

/** One end of a connection. */
export interface Line {
  send(message: string | Uint8Array): void
  /** Bytes that were not sent yet. */
  readonly waiting: number
  /** @param again who is there may come back */
  close(why: string, again?: boolean): void
}
export type Visitor = { name: string; /** Else they only watch. */ mayDrive: boolean }
type Steps = Extract<LiveOrder, { do: 'steps' }>['steps']

export type RoomPorts = {
  /** @throws {Error} with what is wrong with them */
  readSteps(asked: PlayRequest['steps']): Promise<Steps>
  /** @throws {Error} there is no such row */
  readRow(index: number): Promise<Record<string, string>>
  /** Calls back later. @returns stops it */
  later(ms: number, act: () => void): () => void
  /** Nobody is there any more, and no agent. */
  onEmpty(): void
}

/** A session that nobody looks at ends after this: its browser and seat are somebody else's then. */
export const NOBODY_MS = 120_000
/** Who is slower than the page does not get each picture. */
const WAITING_MOST_BYTES = 600_000
const FRAME_MOST_BYTES = 4_000_000
const PEOPLE_MOST = 30

/** Who is behind is given the newest picture as soon as their line is free again. */
const BEHIND_MS = 200

type Present = Visitor & { line: Line; isBehind?: boolean }
/** What who comes later has to know, the newest of each kind. */
const KEPT: ReadonlySet<LiveWord['say']> = new Set(['state', 'recorded', 'list', 'asks', 'judge', 'held'])

export class Room {
  private agent: Line | undefined
  private readonly people = new Map<number, Present>()
  private driver: number | null = null
  private nextId = 1
  private readonly known = new Map<string, string>()
  private frame: Uint8Array | undefined
  private stopWaiting: (() => void) | undefined

  constructor(private readonly ports: RoomPorts) {}

  /** A line that comes later takes the place of the one before. */
  agentCame(line: Line): void {
    this.agent?.close('another line of this agent came')
    this.agent = line
    this.tell({ say: 'agent', here: true })
    this.awaitPeople()
  }

  get hasAgent(): boolean {
    return this.agent !== undefined
  }

  /** The agent's line is at another process: people who wait here in vain are told to come again, and are led
   * there. */
  sendAway(): void {
    if (this.agent) return
    for (const { line } of this.people.values()) line.close('its line is at another process', true)
  }

  agentSaid(line: Line, message: string | Uint8Array): void {
    if (line !== this.agent) return
    if (typeof message !== 'string') return this.showFrame(message)
    const word = readAgent(message)
    if (!word) return line.close('that is nothing an agent says here')
    if (word.say === 'file') return this.tellDriver(message)
    if (KEPT.has(word.say)) this.known.set(word.say, message)
    this.broadcast(message)
  }

  agentLeft(line: Line): void {
    if (line !== this.agent) return
    this.agent = undefined
    this.known.delete('list')
    this.known.delete('asks')
    this.known.delete('judge')
    this.known.delete('held')
    this.tell({ say: 'agent', here: false })
    this.leaveIfEmpty()
  }

  /** @returns their id; `undefined`: there is no room for more */
  personCame(visitor: Visitor, line: Line): number | undefined {
    if (this.people.size >= PEOPLE_MOST) return undefined
    const id = this.nextId++
    this.people.set(id, { ...visitor, line })
    this.stopWaiting?.()
    if (this.driver === null && visitor.mayDrive) this.driver = id
    line.send(JSON.stringify({ say: 'agent', here: this.agent !== undefined } satisfies LiveNotice))
    for (const message of this.known.values()) line.send(message)
    if (this.frame) line.send(this.frame)
    this.tellPeople()
    return id
  }

  async personSaid(id: number, message: string): Promise<void> {
    const person = this.people.get(id)
    if (!person) return
    const said = readPerson(message)
    if (!said) return person.line.close('that is nothing a person says here')
    if (this.isOfRoom(id, person, said)) return
    // those who only watch may notice something, too
    if (said.do === 'remark') return person.mayDrive ? this.order({ ...said, by: person.name }) : undefined
    if (id !== this.driver) return
    if (said.do === 'verdict') return this.order({ ...said, by: person.name })
    if (said.do !== 'play' && said.do !== 'row') return this.order(said as LiveOrder)
    try {
      if (said.do === 'row') return this.order({ ...said, values: await this.ports.readRow(said.index) })
      const { pauseMs } = said
      const steps = await this.ports.readSteps(said.steps)
      this.order({ do: 'steps', steps, ...(pauseMs !== undefined && { pauseMs }) })
    } catch (error) {
      person.line.send(
        JSON.stringify({ say: 'problem', message: (error as Error).message } satisfies LiveWord),
      )
    }
  }

  personLeft(id: number): void {
    if (!this.people.delete(id)) return
    if (this.driver === id) {
      const next = [...this.people].find(([, { mayDrive }]) => mayDrive)
      this.driver = next ? next[0] : null
    }
    this.tellPeople()
    this.awaitPeople()
    this.leaveIfEmpty()
  }

  /** What is between people. @returns whether it was */
  private isOfRoom(id: number, { mayDrive }: Present, said: PersonSays): boolean {
    switch (said.do) {
      case 'point':
        this.tellOthers(id, { say: 'cursor', who: id, x: said.x, y: said.y })
        return true
      case 'drive':
        if (!mayDrive) return true
        if (this.driver === null) this.driver = id
        else
          this.people
            .get(this.driver)
            ?.line.send(JSON.stringify({ say: 'asked', who: id } satisfies LiveNotice))
        this.tellPeople()
        return true
      case 'hand-over':
        if (id === this.driver && this.people.get(said.to)?.mayDrive) this.driver = said.to
        this.tellPeople()
        return true
      default:
        return false
    }
  }

  private order(order: LiveOrder): void {
    this.agent?.send(JSON.stringify(order))
  }

  private showFrame(message: Uint8Array): void {
    if (message.length > FRAME_MOST_BYTES || !readFrame(message)) return
    this.frame = message
    for (const person of this.people.values()) this.showTo(person)
  }

  /** The last picture comes to everybody, however slow: a page that rests sends no other. */
  private showTo(person: Present): void {
    if (person.isBehind || !this.frame) return
    if (person.line.waiting < WAITING_MOST_BYTES) return person.line.send(this.frame)
    person.isBehind = true
    this.ports.later(BEHIND_MS, () => {
      person.isBehind = false
      if ([...this.people.values()].includes(person)) this.showTo(person)
    })
  }

  private broadcast(message: string): void {
    for (const { line } of this.people.values()) line.send(message)
  }
  private tellDriver(message: string): void {
    if (this.driver !== null) this.people.get(this.driver)?.line.send(message)
  }
  private tell(notice: LiveNotice): void {
    this.broadcast(JSON.stringify(notice))
  }
  private tellOthers(id: number, notice: LiveNotice): void {
    for (const [other, { line }] of this.people) if (other !== id) line.send(JSON.stringify(notice))
  }
  private tellPeople(): void {
    const people = [...this.people].map(([id, { name, mayDrive }]) => ({ id, name, mayDrive }))
    for (const [id, { line }] of this.people)
      line.send(JSON.stringify({ say: 'people', you: id, driver: this.driver, people } satisfies LiveNotice))
  }

  /** The agent is told to end when nobody comes. */
  private awaitPeople(): void {
    if (this.people.size > 0 || !this.agent) return
    this.stopWaiting?.()
    this.stopWaiting = this.ports.later(NOBODY_MS, () => this.order({ do: 'end', undo: true }))
  }

  private leaveIfEmpty(): void {
    if (this.agent || this.people.size > 0) return
    this.stopWaiting?.()
    this.ports.onEmpty()
  }
}
