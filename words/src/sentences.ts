/** Anything that core says: a code, with the values that belong into its sentence. */
interface Coded {
  code: string
}

/** A sentence for every code, made from its values: one that is missing is a type error. */
export type Sentences<T extends Coded> = {
  readonly [Code in T['code']]: (values: Extract<T, { code: Code }>) => string
}

/** Returns a function that gives the sentence of what core says. */
export function sentence<T extends Coded>(sentences: Sentences<T>): (said: T) => string {
  const all: Readonly<Record<string, (said: never) => string>> = sentences
  return (said) => all[said.code](said as never)
}
