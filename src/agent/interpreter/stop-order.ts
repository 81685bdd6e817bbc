/** Why an attempt is to stop, and how: the reason its signal is aborted with. */
export class StopOrder {
  /** @param because another role did not pass; absent: the run was cancelled */
  constructor(
    readonly undo: boolean,
    readonly because?: string,
  ) {}
}

export const orderOf = (signal: AbortSignal): StopOrder =>
  signal.reason instanceof StopOrder ? signal.reason : new StopOrder(true)
