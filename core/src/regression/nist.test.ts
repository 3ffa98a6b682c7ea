import { describe, expect, it } from 'vitest'
import { fitPolynomial } from './index.ts'

/**
 * Published reference results: NIST Statistical Reference Datasets, linear regression
 * (Norris, Pontius, Wampler1 to Wampler5), certified to 15 digits.
 */

/** Number of right digits: −log10 of the relative error (absolute where the certified value is 0). */
function digits(value: number, certified: number): number {
  if (value === certified) return 15
  const error = certified === 0 ? Math.abs(value) : Math.abs(value - certified) / Math.abs(certified)
  return -Math.log10(error)
}

function pairs(text: string): [number[], number[]] {
  const numbers = text.trim().split(/\s+/).map(Number)
  return [numbers.filter((_, i) => i % 2 === 1), numbers.filter((_, i) => i % 2 === 0)]
}

const norris = pairs(`
  0.1 0.2 338.8 337.4 118.1 118.2 888.0 884.6 9.2 10.1 228.1 226.5 668.5 666.3 998.5 996.3 449.1 448.6
  778.9 777.0 559.2 558.2 0.3 0.4 0.1 0.6 778.1 775.5 668.8 666.9 339.3 338.0 448.9 447.5 10.8 11.6
  557.7 556.0 228.3 228.1 998.0 995.8 888.8 887.6 119.6 120.2 0.3 0.3 0.6 0.3 557.6 556.8 339.3 339.1
  888.0 887.2 998.5 999.0 778.9 779.0 10.2 11.1 117.6 118.3 228.9 229.2 668.4 669.1 449.2 448.9 0.2 0.5`)

const pontiusY = `
  .11019 .21956 .32949 .43899 .54803 .65694 .76562 .87487 .98292 1.09146 1.20001 1.30822 1.41599 1.52399
  1.63194 1.73947 1.84646 1.95392 2.06128 2.16844 .11052 .22018 .32939 .43886 .54798 .65739 .76596 .87474
  .98300 1.09150 1.20004 1.30818 1.41613 1.52408 1.63159 1.73965 1.84696 1.95445 2.06177 2.16829`
const pontius = [
  Array.from({ length: 40 }, (_, i) => 150000 * ((i % 20) + 1)),
  pontiusY.trim().split(/\s+/).map(Number),
] as const

const wamplerX = Array.from({ length: 21 }, (_, i) => i)
const quintic = (base: number) =>
  wamplerX.map((x) => [0, 1, 2, 3, 4, 5].reduce((sum, k) => sum + (base * x) ** k, 0))
const wampler2Y = [
  1.0, 1.11111, 1.24992, 1.42753, 1.65984, 1.96875, 2.38336, 2.94117, 3.68928, 4.68559, 6.0, 7.71561, 9.92992,
  12.75603, 16.32384, 20.78125, 26.29536, 33.05367, 41.26528, 51.16209, 63.0,
]
const wampler3Y = [
  760, -2042, 2111, -1684, 3888, 1858, 11379, 17560, 39287, 64382, 113159, 175108, 273291, 400186, 581243,
  811568, 1121004, 1506550, 2002767, 2611612, 3369180,
]
const wampler4Y = [
  75901, -204794, 204863, -204436, 253665, -200894, 214131, -185192, 221249, -138370, 315911, -27644, 455253,
  197434, 783995, 608816, 1370781, 1303798, 2205519, 2408860, 3444321,
]
const wampler5Y = [
  7590001, -20479994, 20480063, -20479636, 25231365, -20476094, 20489331, -20460392, 18417449, -20413570,
  20591111, -20302844, 18651453, -20077766, 21059195, -19666384, 26348481, -18971402, 22480719, -17866340,
  10958421,
]
const wamplerErrors = [
  2152.3262467817, 2363.55173469681, 779.343524331583, 101.47550755035, 5.64566512170752, 0.112324854679312,
]

const sets = [
  {
    name: 'Norris',
    data: norris,
    digits: 12,
    values: [-0.262323073774029, 1.00211681802045],
    errors: [0.232818234301152, 0.429796848199937e-3],
  },
  {
    name: 'Pontius',
    data: pontius,
    digits: 10,
    values: [0.673565789473684e-3, 0.732059160401003e-6, -0.316081871345029e-14],
    errors: [0.107938612033077e-3, 0.157817399981659e-9, 0.486652849992036e-16],
  },
  {
    name: 'Wampler1',
    data: [wamplerX, quintic(1)],
    digits: 9,
    values: Array(6).fill(1),
    errors: Array(6).fill(0),
  },
  {
    name: 'Wampler2',
    data: [wamplerX, wampler2Y],
    digits: 9,
    values: [1, 0.1, 0.01, 0.001, 1e-4, 1e-5],
    errors: Array(6).fill(0),
  },
  {
    name: 'Wampler3',
    data: [wamplerX, wampler3Y],
    digits: 9,
    values: Array(6).fill(1),
    errors: wamplerErrors,
  },
  {
    name: 'Wampler4',
    data: [wamplerX, wampler4Y],
    digits: 7.5,
    values: Array(6).fill(1),
    errors: wamplerErrors.map((error) => error * 100),
  },
  {
    name: 'Wampler5',
    data: [wamplerX, wampler5Y],
    digits: 5.5,
    values: Array(6).fill(1),
    errors: wamplerErrors.map((error) => error * 10000),
  },
]

describe('NIST reference data', () => {
  it.each(sets)(
    '$name has $digits right digits in parameters and standard errors',
    ({ data, values, errors, digits: least }) => {
      const fit = fitPolynomial(data[0], data[1], values.length - 1)
      const found = values.flatMap((value, k) => {
        const error = Math.sqrt(fit.covariance[k][k])
        return [
          digits(fit.coefficients[k], value),
          errors[k] === 0 ? (error < 1e-9 ? 15 : 0) : digits(error, errors[k]),
        ]
      })
      expect(Math.min(...found)).toBeGreaterThanOrEqual(least)
    },
  )
})
