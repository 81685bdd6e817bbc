/** Dialogs of the browser that wait for the answer of a person. */
import type { AskedDialog, LiveOrder, LiveWord } from '@/core/live'
import type { DialogAnswer, Done } from '../driver/live'
import { inTime, LATE } from '../driver/in-time'
import { Question } from './question'

/** Nobody gives an answer for so long: it is dismissed. */
const WAIT_MS = 60_000
/** So many after one doing of a person are asked; a page that opens more opens them without end. */
const ASKED_MOST = 5

type Answered = Extract<LiveOrder, { do: 'dialog' }>

export class Dialogs {
  readonly question: Question<AskedDialog, Answered>
  private asked = 0
  /** Words of the one that a person answered last. */
  private answered: string | undefined

  constructor(
    private readonly say: (word: LiveWord) => void,
    private readonly note: (event: Done, atMs: number) => void,
    private readonly now: () => number,
  ) {
    this.question = new Question((dialog) => say({ say: 'asks', dialog }))
  }

  /** A person did something: what comes of it is asked again. */
  begin(): void {
    this.asked = 0
  }

  /** Waits for the answer. What is recorded of it counts from when it opened: thinking takes time. */
  async ask(dialog: AskedDialog): Promise<DialogAnswer | undefined> {
    if (++this.asked > ASKED_MOST) return undefined
    const openedAt = this.now()
    const given = await inTime(this.question.ask(dialog), WAIT_MS)
    if (given === LATE) {
      this.question.close()
      return undefined
    }
    const { answer, text } = given
    this.answered = dialog.words
    this.note({ kind: 'dialog', answer, ...(text !== undefined && { text }) }, openedAt)
    return { accept: answer === 'accept', text }
  }

  /** It was answered: whoever did that knows it. */
  sayAnswered(words: string, answer: 'accept' | 'dismiss'): void {
    if (this.answered !== words) this.say({ say: 'dialog', words, answer })
    this.answered = undefined
  }
}
