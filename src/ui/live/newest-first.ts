/** Things are made ready side by side: one that is ready only after a newer one is not shown any more.
 * @param ready `null`: there is nothing to show */
export function newestFirst<Given, Ready>(
  ready: (given: Given) => Promise<Ready | null>,
  show: (one: Ready) => void,
): (given: Given) => Promise<void> {
  let [came, shown] = [0, 0]
  return async (given) => {
    const no = ++came
    const one = await ready(given)
    if (one === null || no < shown) return
    shown = no
    show(one)
  }
}
