import { randomSource } from '@apokinema/core/random'
import { createCanvas, type SKRSContext2D } from '@napi-rs/canvas'

/** Painters for things of the harbour fair that several samples share. All measures in pixels. */

type Painter = (context: SKRSContext2D) => void

function gradient(context: SKRSContext2D, top: number, bottom: number, stops: string[]) {
  const fill = context.createLinearGradient(0, top, 0, bottom)
  stops.forEach((colour, i) => {
    fill.addColorStop(i / (stops.length - 1), colour)
  })
  return fill
}

/** Returns an overcast morning sky down to the horizon, with soft banks of cloud. */
export function sky(width: number, horizon: number, seed: number): Painter {
  return (context) => {
    context.fillStyle = gradient(context, 0, horizon, ['#8fa9b4', '#b9c7c9', '#d8d9d0'])
    context.fillRect(0, 0, width, horizon)
    const random = randomSource(seed)
    context.save()
    context.filter = 'blur(28px)'
    for (let i = 0; i < 26; i++) {
      context.fillStyle = random() < 0.6 ? 'rgba(240,240,234,0.28)' : 'rgba(120,142,152,0.22)'
      context.beginPath()
      context.ellipse(
        random() * width,
        random() * horizon * 0.9,
        60 + 160 * random(),
        14 + 26 * random(),
        0,
        0,
        7,
      )
      context.fill()
    }
    context.restore()
  }
}

/** Water between two heights, with short dashes of light that grow towards the viewer. */
export function water(width: number, top: number, bottom: number, seed: number): Painter {
  return (context) => {
    context.fillStyle = gradient(context, top, bottom, ['#7d98a3', '#5f808d', '#4a6b78'])
    context.fillRect(0, top, width, bottom - top)
    const random = randomSource(seed)
    for (let i = 0; i < 900; i++) {
      const depth = random() ** 1.4
      const y = top + depth * (bottom - top)
      context.fillStyle =
        random() < 0.5 ? `rgba(214,226,226,${0.05 + 0.18 * depth})` : `rgba(30,54,66,${0.04 + 0.16 * depth})`
      context.fillRect(random() * width, y, 6 + 34 * depth * random(), 1 + 1.6 * depth)
    }
  }
}

/** Returns the quay's edge and paving, darker towards the viewer, with joints, stains and scratches. */
export function quay(width: number, top: number, height: number, seed: number): Painter {
  return (context) => {
    context.fillStyle = '#57534b'
    context.fillRect(0, top - 10, width, 12)
    context.fillStyle = gradient(context, top, height, ['#9b9384', '#857c6d', '#6a6256'])
    context.fillRect(0, top, width, height - top)
    const random = randomSource(seed)
    for (let i = 0; i < 2600; i++) {
      const y = top + random() ** 0.8 * (height - top)
      context.fillStyle = random() < 0.5 ? 'rgba(255,250,235,0.06)' : 'rgba(30,26,20,0.09)'
      context.fillRect(random() * width, y, 2 + 22 * random(), 1 + 2 * random())
    }
    context.strokeStyle = 'rgba(50,44,36,0.4)'
    context.lineWidth = 1.6
    for (let row = 0, y = top; y < height; row++, y += 16 + 9 * row) {
      context.beginPath()
      context.moveTo(0, y)
      context.lineTo(width, y)
      context.stroke()
      const step = 90 + 22 * row
      for (let x = -((row % 2) * step) / 2 + random() * 20; x < width; x += step) {
        context.beginPath()
        context.moveTo(x, y)
        context.lineTo(x + (x - width / 2) * 0.03, y + 16 + 9 * row)
        context.stroke()
      }
    }
  }
}

/** Returns a fair stall: a plank hut with a counter and a striped awning. */
export function stall(
  x: number,
  ground: number,
  size: number,
  stripe: string,
  wood: string,
  seed: number,
): Painter {
  return (context) => {
    const random = randomSource(seed)
    const width = size
    const height = size * 1.25
    const top = ground - height
    context.fillStyle = wood
    context.fillRect(x, top + size * 0.2, width, height - size * 0.2)
    for (let plank = 0; plank < 12; plank++) {
      context.fillStyle = `rgba(${random() < 0.5 ? '255,240,215' : '20,14,8'},${0.04 + 0.08 * random()})`
      context.fillRect(x + (plank * width) / 12, top + size * 0.2, width / 12 - 1, height - size * 0.2)
    }
    context.fillStyle = '#332d29'
    context.fillRect(x + size * 0.1, top + size * 0.42, width - size * 0.2, size * 0.4)
    for (let jar = 0; jar < 7; jar++) {
      context.fillStyle = ['#8a6b4b', '#6f7f62', '#a57d55', '#5c7480'][Math.floor(random() * 4)]
      const tall = size * (0.07 + 0.09 * random())
      context.fillRect(x + size * (0.14 + 0.105 * jar), top + size * 0.82 - tall, size * 0.07, tall)
    }
    context.fillStyle = '#6b5540'
    context.fillRect(x - size * 0.03, top + size * 0.82, width + size * 0.06, size * 0.05)
    const stripes = 8
    for (let i = 0; i < stripes; i++) {
      const left = x - size * 0.08 + (i * (width + size * 0.16)) / stripes
      const wide = (width + size * 0.16) / stripes
      context.fillStyle = i % 2 ? '#e5ddcb' : stripe
      context.beginPath()
      context.moveTo(x + (i * width) / stripes, top)
      context.lineTo(x + ((i + 1) * width) / stripes, top)
      context.lineTo(left + wide, top + size * 0.24)
      context.arc(left + wide / 2, top + size * 0.24, wide / 2, 0, Math.PI)
      context.closePath()
      context.fill()
    }
    context.fillStyle = 'rgba(0,0,0,0.16)'
    context.fillRect(x, top + size * 0.3, width, size * 0.1)
  }
}

/** Returns a moored sailing boat on the water. */
export function boat(x: number, waterline: number, size: number): Painter {
  return (context) => {
    context.fillStyle = '#4d5a63'
    for (const [left, right, peak] of [
      [-0.05, -0.36, -1.15],
      [0.02, 0.34, -0.95],
    ]) {
      context.beginPath()
      context.moveTo(x + left * size, waterline - 0.18 * size)
      context.lineTo(x + right * size, waterline - 0.2 * size)
      context.lineTo(x + left * size, waterline + peak * size)
      context.fill()
    }
    context.fillStyle = '#3a3430'
    context.fillRect(x - 0.03 * size, waterline - 1.22 * size, 0.035 * size, 1.15 * size)
    context.fillStyle = '#7d3d34'
    context.beginPath()
    context.moveTo(x - 0.55 * size, waterline - 0.17 * size)
    context.lineTo(x + 0.58 * size, waterline - 0.19 * size)
    context.lineTo(x + 0.44 * size, waterline + 0.03 * size)
    context.lineTo(x - 0.46 * size, waterline + 0.03 * size)
    context.fill()
    context.fillStyle = 'rgba(40,30,30,0.25)'
    context.fillRect(x - 0.45 * size, waterline + 0.03 * size, 0.9 * size, 0.12 * size)
  }
}

/** Returns a line of small flags hung between two points. */
export function bunting(x0: number, y0: number, x1: number, y1: number, sag: number): Painter {
  return (context) => {
    const at = (s: number) => ({ x: x0 + s * (x1 - x0), y: y0 + s * (y1 - y0) + 4 * sag * s * (1 - s) })
    context.strokeStyle = '#59534b'
    context.lineWidth = 1.4
    context.beginPath()
    for (let i = 0; i <= 40; i++) context.lineTo(at(i / 40).x, at(i / 40).y)
    context.stroke()
    const colours = ['#b7574a', '#e3d9bf', '#48707c', '#c29a4a', '#6b7f5c']
    const count = Math.round(Math.hypot(x1 - x0, y1 - y0) / 34)
    for (let i = 0; i < count; i++) {
      const { x, y } = at((i + 0.5) / count)
      context.fillStyle = colours[i % colours.length]
      context.beginPath()
      context.moveTo(x - 9, y)
      context.lineTo(x + 9, y)
      context.lineTo(x + (i % 3) - 1, y + 19)
      context.fill()
    }
  }
}

/** Returns a tide staff: a post with red and white bands, exactly from `top` to `bottom`. */
export function tideStaff(x: number, top: number, bottom: number, width: number, bands: number): Painter {
  return (context) => {
    const band = (bottom - top) / bands
    for (let i = 0; i < bands; i++) {
      context.fillStyle = i % 2 ? '#e9e3d3' : '#b1412f'
      context.fillRect(x - width / 2, top + i * band, width, band)
    }
    const shade = context.createLinearGradient(x - width / 2, 0, x + width / 2, 0)
    shade.addColorStop(0, 'rgba(255,255,255,0.25)')
    shade.addColorStop(0.5, 'rgba(255,255,255,0)')
    shade.addColorStop(1, 'rgba(0,0,0,0.35)')
    context.fillStyle = shade
    context.fillRect(x - width / 2, top, width, bottom - top)
    context.fillStyle = '#4b463e'
    context.fillRect(x - width * 1.6, bottom, width * 3.2, 9)
    context.fillStyle = 'rgba(20,16,10,0.3)'
    context.beginPath()
    context.ellipse(x + 26, bottom + 10, 60, 5, 0, 0, 7)
    context.fill()
  }
}

/** Crates, a coil of rope and a bollard, standing on the ground. */
export function clutter(x: number, ground: number, seed: number): Painter {
  return (context) => {
    const random = randomSource(seed)
    for (let i = 0; i < 3; i++) {
      const size = 44 + 20 * random()
      const left = x + i * 50 + 8 * random()
      context.fillStyle = ['#8b6f4e', '#7a6247', '#96794f'][i]
      context.fillRect(left, ground - size, size, size)
      context.strokeStyle = 'rgba(40,28,16,0.5)'
      context.lineWidth = 2
      for (let slat = 0; slat <= 3; slat++) {
        context.strokeRect(left, ground - size + (slat * size) / 4, size, size / 4)
      }
    }
    context.fillStyle = '#3b3a38'
    context.fillRect(x + 200, ground - 36, 26, 36)
    context.beginPath()
    context.ellipse(x + 213, ground - 38, 20, 8, 0, 0, 7)
    context.fill()
    context.strokeStyle = '#a8946b'
    context.lineWidth = 5
    for (let turn = 0; turn < 4; turn++) {
      context.beginPath()
      context.ellipse(x + 268, ground - 4 - 5 * turn, 30 - 2 * turn, 8, 0, 0, 7)
      context.stroke()
    }
  }
}

/** Darkens the corners, as a small lens does. */
export function vignette(width: number, height: number): Painter {
  return (context) => {
    const fall = context.createRadialGradient(
      width / 2,
      height / 2,
      Math.min(width, height) * 0.5,
      width / 2,
      height / 2,
      Math.max(Math.max(width, height) * 0.62, Math.hypot(width, height) * 0.54),
    )
    fall.addColorStop(0, 'rgba(10,12,14,0)')
    fall.addColorStop(1, 'rgba(10,12,14,0.3)')
    context.fillStyle = fall
    context.fillRect(0, 0, width, height)
  }
}

/** Patches of soft light and shade over everything, as clouds throw them, and the fine unevenness of real surfaces. */
export function weathering(width: number, height: number, seed: number): Painter {
  return (context) => {
    const random = randomSource(seed)
    context.save()
    context.filter = 'blur(60px)'
    for (let i = 0; i < 18; i++) {
      context.fillStyle = random() < 0.5 ? 'rgba(255,238,205,0.10)' : 'rgba(18,26,38,0.12)'
      context.beginPath()
      context.ellipse(
        random() * width,
        random() * height,
        80 + 180 * random(),
        50 + 90 * random(),
        random() * 3,
        0,
        7,
      )
      context.fill()
    }
    context.restore()
    // Grain that is correlated over a few pixels in both directions reads as surface, not as noise.
    const picture = context.getImageData(0, 0, width, height)
    const { data } = picture
    const above = new Float32Array(width)
    for (let y = 0; y < height; y++) {
      let left = 0
      for (let x = 0; x < width; x++) {
        left = 0.3 * left + 0.3 * above[x] + 2.4 * (random() - 0.5)
        above[x] = left
        const at = 4 * (y * width + x)
        for (let c = 0; c < 3; c++) data[at + c] = Math.min(255, Math.max(0, data[at + c] + left))
      }
    }
    context.putImageData(picture, 0, 0)
  }
}

/** Paints the whole still scene once, through a lens that is a little soft. */
export function stillScene(width: number, height: number, painters: Painter[]) {
  const sharp = createCanvas(width, height)
  const context = sharp.getContext('2d')
  for (const paint of painters) paint(context)
  const soft = createCanvas(width, height)
  const through = soft.getContext('2d')
  through.drawImage(sharp, 0, 0)
  through.filter = 'blur(0.7px)'
  through.drawImage(sharp, 0, 0)
  return soft
}

/** Draws a white disc with a dark middle to aim at, at the origin of the context. */
export function aimingDisc(context: SKRSContext2D): void {
  context.fillStyle = '#f2efe6'
  context.beginPath()
  context.arc(0, 0, 12, 0, 7)
  context.fill()
  context.fillStyle = '#27303a'
  context.beginPath()
  context.arc(0, 0, 4.5, 0, 7)
  context.fill()
}

/** Draws a plank of some pixels along the context's x axis, from its origin on, with its upper side at y = 0. */
export function plankAlong(context: SKRSContext2D, long: number): void {
  context.fillStyle = '#b08a5c'
  context.fillRect(0, 0, long, 17)
  context.fillStyle = 'rgba(60,40,20,0.45)'
  context.fillRect(0, 12, long, 5)
}

/** Draws a trestle that stands on the quay at a height in the picture, with its top at a point. */
export function trestle(context: SKRSContext2D, top: { x: number; y: number }, ground: number): void {
  context.strokeStyle = '#5b4630'
  context.lineWidth = 11
  context.beginPath()
  context.moveTo(top.x - 22, ground)
  context.lineTo(top.x, top.y)
  context.lineTo(top.x + 22, ground)
  context.stroke()
}

/** Draws the lantern: red paper over hoops, a brass cap above and a tassel below. */
export function lantern(context: SKRSContext2D, at: { x: number; y: number }) {
  context.save()
  context.translate(at.x, at.y)
  const paper = context.createRadialGradient(-14, -12, 6, 0, 0, 62)
  paper.addColorStop(0, '#f0a66a')
  paper.addColorStop(0.6, '#c9503a')
  paper.addColorStop(1, '#8b2f26')
  context.fillStyle = paper
  context.beginPath()
  context.ellipse(0, 0, 58, 46, 0, 0, 7)
  context.fill()
  context.strokeStyle = 'rgba(70,16,10,0.55)'
  context.lineWidth = 1.8
  for (const rib of [-0.72, -0.4, 0, 0.4, 0.72]) {
    context.beginPath()
    context.ellipse(0, 0, Math.abs(58 * rib) + 1, 46, 0, 0, 7)
    context.stroke()
  }
  context.fillStyle = '#caa552'
  context.fillRect(-17, -54, 34, 12)
  context.fillRect(-15, 42, 30, 9)
  context.strokeStyle = '#caa552'
  context.lineWidth = 3
  context.beginPath()
  context.moveTo(0, 51)
  context.lineTo(0, 84)
  context.stroke()
  context.fillStyle = '#fff6dc'
  context.beginPath()
  context.arc(0, 0, 6.5, 0, 7)
  context.fill()
  context.restore()
}
