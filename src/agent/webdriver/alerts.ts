/** Dialogs of a browser behind WebDriver: they stand until they are answered, and refuse whatever is asked
 * meanwhile. */
import type { DialogAnswer, DialogListeners } from '../driver/live'
import { DIALOG_CHARS, DIALOGS_MOST } from '../driver/port'
import type { WebDriverSession } from './client'

export class Alerts {
  /** For the next one; without it that is dismissed. */
  next: DialogAnswer | undefined
  /** Words of the newest that was dismissed without being asked for. */
  dismissed: string | undefined
  /** Words of all of them. */
  readonly said: string[] = []
  listeners: DialogListeners | undefined

  constructor(private readonly session: WebDriverSession) {}

  /** Answers the one that is open, if one is. */
  async seeTo(): Promise<void> {
    const words = (await this.session.alertText().catch(() => undefined))?.slice(0, DIALOG_CHARS)
    if (words === undefined) return
    if (this.said.length < DIALOGS_MOST) this.said.push(words)
    const { next } = this
    this.next = undefined
    // It is not told what kind of dialog it is.
    const answer = next ?? (await this.listeners?.ask({ words, suggested: '' }))
    this.listeners?.dialog(words, answer?.accept ? 'accept' : 'dismiss')
    if (!answer) this.dismissed = words
    if (!answer?.accept) return void (await this.session.dismissAlert().catch(() => {}))
    if (answer.text !== undefined) await this.session.sendAlertText(answer.text).catch(() => {})
    await this.session.acceptAlert()
  }
}
