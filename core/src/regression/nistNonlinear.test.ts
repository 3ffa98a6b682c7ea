import { describe, expect, it } from 'vitest'
import { readExpression } from '../motion/own/expression.ts'
import { type Evaluate, fitNonlinear, linearParameters } from './index.ts'

/**
 * Published reference results: NIST Statistical Reference Datasets, nonlinear regression, certified to 11 digits. Each
 * is fitted as an expression that somebody has written, from both published starts.
 */

interface Dataset {
  name: string
  model: string
  x: number[]
  y: number[]
  starts: [number[], number[]]
  parameters: number[]
  errors: number[]
  rss: number
}

const list = (text: string) => text.trim().split(/\s+/).map(Number)
const steps = (first: number, step: number, count: number) =>
  Array.from({ length: count }, (_, i) => Math.round((first + i * step) * 1e6) / 1e6)

const misra = {
  x: list('77.6 114.9 141.1 190.8 239.9 289.0 332.8 378.4 434.8 477.3 536.8 593.1 689.1 760.0'),
  y: list('10.07 14.73 17.94 23.93 29.61 35.18 40.02 44.82 50.76 55.05 61.01 66.40 75.47 81.78'),
}

const DATASETS: Dataset[] = [
  {
    name: 'Misra1a',
    model: 'b1*(1-exp(-b2*x))',
    ...misra,
    starts: [
      [500, 0.0001],
      [250, 0.0005],
    ],
    parameters: [2.3894212918e2, 5.5015643181e-4],
    errors: [2.7070075241, 7.2668688436e-6],
    rss: 1.2455138894e-1,
  },
  {
    name: 'Misra1b',
    model: 'b1*(1-(1+b2*x/2)^(-2))',
    ...misra,
    starts: [
      [500, 0.0001],
      [300, 0.0002],
    ],
    parameters: [3.3799746163e2, 3.9039091287e-4],
    errors: [3.1643950207, 4.2547321834e-6],
    rss: 7.5464681533e-2,
  },
  {
    name: 'Misra1c',
    model: 'b1*(1-(1+2*b2*x)^(-0.5))',
    ...misra,
    starts: [
      [500, 0.0001],
      [600, 0.0002],
    ],
    parameters: [6.3642725809e2, 2.0813627256e-4],
    errors: [4.6638326572, 1.7728423155e-6],
    rss: 4.0966836971e-2,
  },
  {
    name: 'Misra1d',
    model: 'b1*b2*x*((1+b2*x)^(-1))',
    ...misra,
    starts: [
      [500, 0.0001],
      [450, 0.0003],
    ],
    parameters: [4.3736970754e2, 3.0227324449e-4],
    errors: [3.6489174345, 2.9334354479e-6],
    rss: 5.6419295283e-2,
  },
  {
    name: 'DanWood',
    model: 'b1*x^b2',
    x: list('1.309 1.471 1.490 1.565 1.611 1.680'),
    y: list('2.138 3.421 3.597 4.340 4.882 5.660'),
    starts: [
      [1, 5],
      [0.7, 4],
    ],
    parameters: [7.6886226176e-1, 3.8604055871],
    errors: [1.828197386e-2, 5.1726610913e-2],
    rss: 4.3173084083e-3,
  },
  {
    name: 'BoxBOD',
    model: 'b1*(1-exp(-b2*x))',
    x: list('1 2 3 5 7 10'),
    y: list('109 149 149 191 213 224'),
    starts: [
      [1, 1],
      [100, 0.75],
    ],
    parameters: [2.1380940889e2, 5.4723748542e-1],
    errors: [1.2354515176e1, 1.0455993237e-1],
    rss: 1.1680088766e3,
  },
  {
    name: 'Rat42',
    model: 'b1/(1+exp(b2-b3*x))',
    x: list('9 14 21 28 42 57 63 70 79'),
    y: list('8.930 10.800 18.590 22.330 39.350 56.110 61.730 64.620 67.080'),
    starts: [
      [100, 1, 0.1],
      [75, 2.5, 0.07],
    ],
    parameters: [7.2462237576e1, 2.6180768402, 6.7359200066e-2],
    errors: [1.7340283401, 8.8295217536e-2, 3.4465663377e-3],
    rss: 8.0565229338,
  },
  {
    name: 'Rat43',
    model: 'b1/((1+exp(b2-b3*x))^(1/b4))',
    x: steps(1, 1, 15),
    y: list(
      '16.08 33.83 65.80 97.20 191.55 326.20 386.87 520.53 590.03 651.92 724.93 699.56 689.96 637.56 717.41',
    ),
    starts: [
      [100, 10, 1, 1],
      [700, 5, 0.75, 1.3],
    ],
    parameters: [6.996415127e2, 5.2771253025, 7.5962938329e-1, 1.2792483859],
    errors: [1.6302297817e1, 2.0828735829, 1.9566123451e-1, 6.8761936385e-1],
    rss: 8.786404908e3,
  },
  {
    name: 'MGH09',
    model: 'b1*(x^2+x*b2)/(x^2+x*b3+b4)',
    x: list('4 2 1 0.5 0.25 0.167 0.125 0.1 0.0833 0.0714 0.0625'),
    y: list('0.1957 0.1947 0.1735 0.16 0.0844 0.0627 0.0456 0.0342 0.0323 0.0235 0.0246'),
    starts: [
      [25, 39, 41.5, 39],
      [0.25, 0.39, 0.415, 0.39],
    ],
    parameters: [1.9280693458e-1, 1.9128232873e-1, 1.2305650693e-1, 1.3606233068e-1],
    errors: [1.1435312227e-2, 1.9633220911e-1, 8.0842031232e-2, 9.0025542308e-2],
    rss: 3.0750560385e-4,
  },
  {
    name: 'MGH10',
    model: 'b1*exp(b2/(x+b3))',
    x: steps(50, 5, 16),
    y: list('34780 28610 23650 19630 16370 13720 11540 9744 8261 7030 6005 5147 4427 3820 3307 2872'),
    starts: [
      [2, 400000, 25000],
      [0.02, 4000, 250],
    ],
    parameters: [5.609636471e-3, 6.1813463463e3, 3.4522363462e2],
    errors: [1.5687892471e-4, 2.3309021107e1, 7.8486103508e-1],
    rss: 8.7945855171e1,
  },
  {
    name: 'MGH17',
    model: 'b1+b2*exp(-x*b4)+b3*exp(-x*b5)',
    x: steps(0, 10, 33),
    y: list(`0.844 0.908 0.932 0.936 0.925 0.908 0.881 0.850 0.818 0.784 0.751 0.718 0.685 0.658 0.628 0.603 0.580
      0.558 0.538 0.522 0.506 0.490 0.478 0.467 0.457 0.448 0.438 0.431 0.424 0.420 0.414 0.411 0.406`),
    starts: [
      [50, 150, -100, 1, 2],
      [0.5, 1.5, -1, 0.01, 0.02],
    ],
    parameters: [3.7541005211e-1, 1.9358469127, -1.4646871366, 1.286753464e-2, 2.2122699662e-2],
    errors: [2.0723153551e-3, 2.2031669222e-1, 2.2175707739e-1, 4.4861358114e-4, 8.9471996575e-4],
    rss: 5.4648946975e-5,
  },
  {
    name: 'Lanczos3',
    model: 'b1*exp(-b2*x)+b3*exp(-b4*x)+b5*exp(-b6*x)',
    x: steps(0, 0.05, 24),
    y: list(`2.5134 2.0443 1.6684 1.3664 1.1232 0.9269 0.7679 0.6389 0.5338 0.4479 0.3776 0.3197 0.2720 0.2325 0.1997
      0.1723 0.1493 0.1301 0.1138 0.1000 0.0883 0.0783 0.0698 0.0624`),
    starts: [
      [1.2, 0.3, 5.6, 5.5, 6.5, 7.6],
      [0.5, 0.7, 3.6, 4.2, 4, 6.3],
    ],
    parameters: [8.6816414977e-2, 9.5498101505e-1, 8.4400777463e-1, 2.9515951832, 1.5825685901, 4.9863565084],
    errors: [
      1.7197908859e-2, 9.7041624475e-2, 4.1488663282e-2, 1.0766312506e-1, 5.8371576281e-2, 3.4436403035e-2,
    ],
    rss: 1.6117193594e-8,
  },
  {
    name: 'Lanczos2',
    model: 'b1*exp(-b2*x)+b3*exp(-b4*x)+b5*exp(-b6*x)',
    x: steps(0, 0.05, 24),
    // As published: rounded to six digits.
    y: steps(0, 0.05, 24).map((x) =>
      Number((0.0951 * Math.exp(-x) + 0.8607 * Math.exp(-3 * x) + 1.5576 * Math.exp(-5 * x)).toPrecision(6)),
    ),
    starts: [
      [1.2, 0.3, 5.6, 5.5, 6.5, 7.6],
      [0.5, 0.7, 3.6, 4.2, 4, 6.3],
    ],
    parameters: [9.6251029939e-2, 1.0057332849, 8.6424689056e-1, 3.0078283915, 1.5529016879, 5.00287981],
    errors: [
      6.6770575477e-4, 3.3989646176e-3, 1.7185846685e-3, 4.1707005856e-3, 2.3744381417e-3, 1.3958787284e-3,
    ],
    rss: 2.2299428125e-11,
  },
  {
    name: 'Roszman1',
    model: 'b1-b2*x-atan(b3/(x-b4))/pi',
    x: list(`-4868.68 -4868.09 -4867.41 -3375.19 -3373.14 -3372.03 -2473.74 -2472.35 -2469.45 -1894.65 -1893.40 -1497.24
      -1495.85 -1493.41 -1208.68 -1206.18 -1206.04 -997.92 -996.61 -996.31 -834.94 -834.66 -710.03 -530.16 -464.17`),
    y: list(`0.252429 0.252141 0.251809 0.297989 0.296257 0.295319 0.339603 0.337731 0.333820 0.389510 0.386998 0.438864
      0.434887 0.427893 0.471568 0.461699 0.461144 0.513532 0.506641 0.505062 0.535648 0.533726 0.568064 0.612886
      0.624169`),
    starts: [
      [0.1, -0.00001, 1000, -100],
      [0.2, -0.000005, 1200, -150],
    ],
    parameters: [2.0196866396e-1, -6.1953516256e-6, 1.2044556708e3, -1.8134269537e2],
    errors: [1.9172666023e-2, 3.2058931691e-6, 7.4050983057e1, 4.9573513849e1],
    rss: 4.9484847331e-4,
  },
  {
    name: 'Eckerle4',
    model: '(b1/b2)*exp(-0.5*((x-b3)/b2)^2)',
    x: [...steps(400, 5, 8), ...steps(436.5, 1.5, 20), ...steps(470, 5, 7)],
    y: list(`0.0001575 0.0001699 0.0002350 0.0003102 0.0004917 0.0008710 0.0017418 0.0046400 0.0065895 0.0097302
      0.0149002 0.0237310 0.0401683 0.0712559 0.1264458 0.2073413 0.2902366 0.3445623 0.3698049 0.3668534 0.3106727
      0.2078154 0.1164354 0.0616764 0.0337200 0.0194023 0.0117831 0.0074357 0.0022732 0.0008800 0.0004579 0.0002345
      0.0001586 0.0001143 0.0000710`),
    starts: [
      [1, 10, 500],
      [1.5, 5, 450],
    ],
    parameters: [1.5543827178, 4.0888321754, 4.5154121844e2],
    errors: [1.5408051163e-2, 4.6803020753e-2, 4.6800518816e-2],
    rss: 1.4635887487e-3,
  },
  {
    name: 'Thurber',
    model: '(b1+b2*x+b3*x^2+b4*x^3)/(1+b5*x+b6*x^2+b7*x^3)',
    x: list(`-3.067 -2.981 -2.921 -2.912 -2.840 -2.797 -2.702 -2.699 -2.633 -2.481 -2.363 -2.322 -1.501 -1.460 -1.274
      -1.212 -1.100 -1.046 -0.915 -0.714 -0.566 -0.545 -0.400 -0.309 -0.109 -0.103 0.010 0.119 0.377 0.790 0.963 1.006
      1.115 1.572 1.841 2.047 2.200`),
    y: list(`80.574 84.248 87.264 87.195 89.076 89.608 89.868 90.101 92.405 95.854 100.696 101.060 401.672 390.724
      567.534 635.316 733.054 759.087 894.206 990.785 1090.109 1080.914 1122.643 1178.351 1260.531 1273.514 1288.339
      1327.543 1353.863 1414.509 1425.208 1421.384 1442.962 1464.350 1468.705 1447.894 1457.628`),
    starts: [
      [1000, 1000, 400, 40, 0.7, 0.3, 0.03],
      [1300, 1500, 500, 75, 1, 0.4, 0.05],
    ],
    parameters: [
      1.28813968e3, 1.4910792535e3, 5.8323836877e2, 7.5416644291e1, 9.6629502864e-1, 3.9797285797e-1,
      4.9727297349e-2,
    ],
    errors: [
      4.6647963344, 3.9571156086e1, 2.8698696102e1, 5.567537027, 3.1333340687e-2, 1.4984928198e-2,
      6.5842344623e-3,
    ],
    rss: 5.6427082397e3,
  },
]

/** Number of right digits. */
const digits = (value: number, certified: number) =>
  value === certified ? 15 : -Math.log10(Math.abs(value - certified) / Math.abs(certified))

/** A model as the engine asks for it, of an expression in x and b1, b2 … */
function modelOf(text: string, x: number[], count: number): Evaluate {
  const expression = readExpression(text)
  const places = expression.names.map((name) => (name === 'x' ? -1 : Number(name.slice(1)) - 1))
  expect(new Set(places).size).toBe(count + 1)
  return (parameters, values, slopes) => {
    x.forEach((at, i) => {
      const told = expression.at(places.map((k) => (k < 0 ? at : parameters[k])))
      values[i] = told.value
      if (slopes) for (const [j, k] of places.entries()) if (k >= 0) slopes[k][i] = told.slopes[j]
    })
  }
}

describe.each(DATASETS)('NIST $name', ({ model, x, y, starts, parameters, errors, rss }) => {
  it.each([0, 1])('has its certified parameters and standard errors from start %i', (which) => {
    const evaluate = modelOf(model, x, parameters.length)
    const start = starts[which]
    const fit = fitNonlinear({ y, evaluate, start, linear: linearParameters(evaluate, start, x.length) })
    parameters.forEach((certified, k) => {
      expect(digits(fit.parameters[k], certified)).toBeGreaterThan(9)
    })
    const variance = fit.rss / fit.freedom
    errors.forEach((certified, k) => {
      expect(digits(Math.sqrt(fit.cofactors[k][k] * variance), certified)).toBeGreaterThan(8)
    })
    expect(digits(fit.rss, rss)).toBeGreaterThan(8)
  })
})
