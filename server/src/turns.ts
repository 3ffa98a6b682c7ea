/** Gives a function that does things one after the other, in the order in which they are asked for. */
export function takingTurns(): <T>(act: () => Promise<T>) => Promise<T> {
  let before: Promise<unknown> = Promise.resolve()
  return (act) => {
    const mine = before.then(act)
    before = mine.catch(() => {})
    return mine
  }
}
