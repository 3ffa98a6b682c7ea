import { launchBrowser } from './browser.ts'
import { BITS, CLIP_HEIGHT, CLIP_WIDTH } from './clips.ts'
import { goToFrame, waitForFrame } from './page.ts'

const b = await launchBrowser()
const page = await b.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto('http://127.0.0.1:5170')
await page.getByLabel('Video file').setInputFiles('/work/main/e2e/clips/uneven-b-frames-gop250.mp4')
await waitForFrame(page, 0)
const read = () =>
  page.evaluate(
    ([bits, width, height]) => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-stage] canvas[data-picture]')!
      const c = canvas.getContext('2d')!
      const zoom = Math.min(canvas.width / width, canvas.height / height)
      const left = (canvas.width - width * zoom) / 2,
        top = (canvas.height - height * zoom) / 2
      let f = 0
      const v: number[] = []
      for (let bit = 0; bit < bits; bit++) {
        const r = c.getImageData(
          Math.round(left + ((bit + 0.5) * width * zoom) / bits),
          Math.round(top + height * 0.3 * zoom),
          1,
          1,
        ).data[0]
        v.push(r)
        if (r > 128) f |= 1 << bit
      }
      return [f, canvas.dataset.frame, v.join(' ')]
    },
    [BITS, CLIP_WIDTH, CLIP_HEIGHT],
  )
await goToFrame(page, 255)
for (let f = 254; f >= 236; f--) {
  await page.keyboard.press(',')
  await waitForFrame(page, f)
}
let seed = 12345
const seq: number[] = []
for (let j = 0; j < 30; j++) {
  seed = (seed * 1103515245 + 12345) % 2147483648
  const f = seed % 300
  seq.push(f)
  await goToFrame(page, f)
  const r = await read()
  if (r[0] !== f) {
    console.log('BAD', f, r, seq.slice(-4))
    await page.waitForTimeout(300)
    console.log('later', await read())
    await goToFrame(page, 10)
    await goToFrame(page, f)
    console.log('again', await read())
  }
}
console.log(seq.join(' '))
await b.close()
