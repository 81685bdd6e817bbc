/** What is wrong with an input, and where: `path` as JSON Pointer without its first slash, empty for the
 * whole. */
export type Fault = { path: string; message: string }

/** An input that makes no sense. The caller shows every fault; nothing was computed. */
export class BadInput extends Error {
  constructor(readonly faults: readonly Fault[]) {
    super(faults.map(({ path, message }) => `${path || 'input'}: ${message}`).join('; '))
  }
}

/** Gathers faults, so that all of them are told at once. */
export class Faults {
  private readonly list: Fault[] = []
  add(path: string, message: string): void {
    this.list.push({ path, message })
  }
  /** @throws {BadInput} if there is any */
  throwIfAny(): void {
    if (this.list.length > 0) throw new BadInput(this.list)
  }
}
