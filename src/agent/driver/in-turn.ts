/** One after the other: what is asked while another goes on waits for it, and goes on after its failure, too.
 * @returns takes the work, and gives its answer */
export function inTurn(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve()
  return (work) => {
    const next = last.then(work, work)
    last = next.catch(() => {})
    return next
  }
}
