/** Returns a function that runs asynchronous tasks one at a time, in call order. */
export function serialQueue(): <T>(task: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve()
  return (task) => {
    const result = last.then(task)
    last = result.catch(() => {})
    return result
  }
}
