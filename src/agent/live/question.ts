/** Something that waits for the answer of a person, one at a time. */
export class Question<Asked, Answer> {
  private open: { asked: Asked; answer(given: Answer): void } | undefined

  /** @param tell who looks, whenever it changes; `null`: nothing waits */
  constructor(private readonly tell: (asked: Asked | null) => void) {}

  get isOpen(): boolean {
    return this.open !== undefined
  }

  async ask(asked: Asked): Promise<Answer> {
    return new Promise((answer) => {
      this.open = { asked, answer }
      this.sayOpen()
    })
  }

  /** @returns whether anything waited */
  take(given: Answer): boolean {
    const { open } = this
    if (!open) return false
    this.close()
    open.answer(given)
    return true
  }

  /** Nobody is asked any more. */
  close(): void {
    this.open = undefined
    this.sayOpen()
  }

  /** Who has just come is told, too. */
  sayOpen(): void {
    this.tell(this.open?.asked ?? null)
  }
}
