/** Names that become symbols when they stand by themselves. */
const NAMES = [
  'alpha',
  'beta',
  'gamma',
  'delta',
  'epsilon',
  'eta',
  'theta',
  'kappa',
  'lambda',
  'mu',
  'nu',
  'pi',
  'rho',
  'sigma',
  'tau',
  'phi',
  'chi',
  'psi',
  'omega',
  'Gamma',
  'Delta',
  'Theta',
  'Lambda',
  'Sigma',
  'Phi',
  'Psi',
  'Omega',
  'infty',
  'sin',
  'cos',
  'tan',
  'ln',
  'log',
  'exp',
]
const IS_NAME = new Set(NAMES)

/** Signs that are typed more easily than they are written in TeX. */
const SIGNS: [RegExp, string][] = [
  [/\+-/g, '\\pm '],
  [/<=/g, '\\le '],
  [/>=/g, '\\ge '],
  [/~=/g, '\\approx '],
  [/\*/g, '\\cdot '],
  [/·/g, '\\cdot '],
  [/−/g, '-'],
]

const DELTA = '\\Delta '

/** Returns the end of the operand that begins at `from`: a group in brackets, a number, or a name with its indices. */
function operandEnd(text: string, from: number): number {
  // A change is a change of something: Delta t is one operand.
  if (text.startsWith(DELTA, from)) return operandEnd(text, from + DELTA.length)
  const closing = { '(': ')', '{': '}' }[text[from]]
  if (closing) {
    let depth = 0
    for (let i = from; i < text.length; i++) {
      if (text[i] === text[from]) depth++
      else if (text[i] === closing && --depth === 0) return i + 1
    }
    return text.length
  }
  return (
    from +
    (/^(\\[a-zA-Z]+|[\p{L}\p{N}.])+([_^](\{[^{}]*\}|[\p{L}\p{N}]))*/u.exec(text.slice(from))?.[0].length ?? 1)
  )
}

/** Returns where the operand begins that ends before `to`. */
function operandStart(text: string, to: number): number {
  const start = termStart(text, to)
  return text.endsWith(DELTA, start) ? start - DELTA.length : start
}

function termStart(text: string, to: number): number {
  const opening = { ')': '(', '}': '{' }[text[to - 1]]
  if (opening) {
    let depth = 0
    for (let i = to - 1; i >= 0; i--) {
      if (text[i] === text[to - 1]) depth++
      else if (text[i] === opening && --depth === 0) {
        // An index or a power belongs to what it stands at.
        const before = /(\\[a-zA-Z]+|[\p{L}\p{N}.]+)[_^]$/u.exec(text.slice(0, i))
        return before ? i - before[0].length : i
      }
    }
    return 0
  }
  return to - (/(\\[a-zA-Z]+|[\p{L}\p{N}.])+([_^][\p{L}\p{N}])*$/u.exec(text.slice(0, to))?.[0].length ?? 1)
}

const bare = (operand: string) =>
  (operand.startsWith('(') && operand.endsWith(')')) || (operand.startsWith('{') && operand.endsWith('}'))
    ? operand.slice(1, -1)
    : operand

/** Returns an equation with each a/b as a fraction. */
function withFractions(text: string): string {
  let result = text
  for (let at = result.indexOf('/'); at >= 0; at = result.indexOf('/', at + 1)) {
    const before = result.slice(0, at).trimEnd()
    const gap = result.slice(at + 1).length - result.slice(at + 1).trimStart().length
    if (before === '' || at + 1 + gap >= result.length) continue
    const start = operandStart(before, before.length)
    const end = operandEnd(result, at + 1 + gap)
    const [upper, lower] = [before.slice(start), result.slice(at + 1 + gap, end)].map((one) =>
      bare(one.trim()),
    )
    const fraction = `\\frac{${upper}}{${lower}}`
    result = result.slice(0, start) + fraction + result.slice(end)
    at = start + 5
  }
  return result
}

/**
 * Returns the TeX of an equation as people type it: `mu` becomes μ, `a/b` a fraction, `sqrt(x)` a root, `v_end` an index and
 * `^10` a power. TeX itself stays as it is.
 */
export function plainToTex(text: string): string {
  let tex = text.replace(/\\text\{[^{}]*\}|\\mathrm\{[^{}]*\}|\\?[A-Za-z]+/g, (word) =>
    !word.startsWith('\\') && IS_NAME.has(word) ? `\\${word} ` : word,
  )
  tex = tex.replace(/(^|[^\\A-Za-z])sqrt\(/g, '$1\\sqrt(')
  for (let at = tex.indexOf('\\sqrt('); at >= 0; at = tex.indexOf('\\sqrt(')) {
    const end = operandEnd(tex, at + 5)
    tex = `${tex.slice(0, at)}\\sqrt{${bare(tex.slice(at + 5, end)).replace(/^\(/, '')}}${tex.slice(end)}`
  }
  tex = tex
    .replace(/([_^])([A-Za-z]{2,}|\d{2,}|-\d+)/g, '$1{$2}')
    .replace(/_\{([A-Za-z]{2,})\}/g, '_{\\mathrm{$1}}')
  for (const [sign, written] of SIGNS) tex = tex.replace(sign, written)
  return withFractions(tex.replace(/\s+/g, ' ')).trim()
}
