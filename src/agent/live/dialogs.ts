/** Dialogs of the browser that wait for the answer of a person. */
import type { AskedDialog, LiveOrder, LiveWord } from '@/core/live'
import type { DialogAnswer, Seen } from '../driver/live'
import { inTime, LATE } from '../driver/in-time'

/** Nobody gives an answer for so long: it is dismissed. */
const WAIT_MS = 60_000
/** So many after one doing of a person are asked; a page that opens more opens them without end. */
const ASKED_MOST = 5

type Answered = Extract<LiveOrder, { do: 'dialog' }>

export class Dialogs {
  private open: { dialog: AskedDialog; answer(given: Answered): void } | undefined
  private asked = 0
  /** Words of the one that a person answered last. */
  private answered: string | undefined

  constructor(
    private readonly say: (word: LiveWord) => void,
    private readonly note: (event: Seen, atMs: number) => void,
    private readonly now: () => number,
  ) {}

  get isOpen(): boolean {
    return this.open !== undefined
  }

  /** Who has just come is told, too. */
  sayOpen(): void {
    this.say({ say: 'asks', dialog: this.open?.dialog ?? null })
  }

  /** It was answered: whoever did that knows it. */
  sayAnswered(words: string, answer: 'accept' | 'dismiss'): void {
    if (this.answered !== words) this.say({ say: 'dialog', words, answer })
    this.answered = undefined
  }

  /** A person did something: what comes of it is asked again. */
  begin(): void {
    this.asked = 0
  }

  /** Waits for the answer. What is recorded of it counts from when it opened: thinking takes time. */
  async ask(dialog: AskedDialog): Promise<DialogAnswer | undefined> {
    if (++this.asked > ASKED_MOST) return undefined
    const openedAt = this.now()
    const given = await inTime(
      new Promise<Answered>((answer) => {
        this.open = { dialog, answer }
        this.sayOpen()
      }),
      WAIT_MS,
    )
    this.open = undefined
    this.sayOpen()
    if (given === LATE) return undefined
    const { answer, text } = given
    this.answered = dialog.words
    this.note({ kind: 'dialog', answer, ...(text !== undefined && { text }) }, openedAt)
    return { accept: answer === 'accept', text }
  }

  /** @returns whether one was open */
  take(order: Answered): boolean {
    this.open?.answer(order)
    return this.open !== undefined
  }
}
