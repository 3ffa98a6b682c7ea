import { type Background, Follower, type Other, searchGroups } from '@apokinema/core/following'
import type { FrameReader } from '../frameReader.ts'
import { type LumaFrame, lumaFrames } from '../lumaFrames.ts'
import { type BodyRun, beginBodyRun, readFor } from './bodyRun.ts'
import type { Answer, FollowNews, FollowTask, FoundMark, Question } from './followTask.ts'

/** Interval between progress reports in milliseconds. */
const NEWS_MS = 150

/** One run of following: bodies through frames, until the end or until it is stopped. */
export class FollowRun {
  private bodies: BodyRun[] = []
  /** Marks found since the last report. */
  private marks: FoundMark[] = []
  /** Bodies that have left the picture. */
  private readonly left: string[] = []
  private done = 0
  /** When the run began, shifted by every pause, and the number of frames since then. */
  private began = performance.now()
  private lastNews = this.began
  private isSending = false
  private isPaused = false
  private isStopped = false
  private resume: (() => void) | null = null
  private onAnswer: ((answer: Answer) => void) | null = null
  /** Questions are asked one after the other. */
  private asking: Promise<unknown> = Promise.resolve()

  /**
   * @param send takes a progress report; resolves once it has been handled
   * @param hasOwnColour whether the colour at a body's point does not occur around it
   */
  constructor(
    private readonly task: FollowTask,
    private readonly send: (news: FollowNews) => unknown,
    private readonly hasOwnColour: (body: string) => Promise<boolean>,
  ) {}

  /** Runs; returns the last frame that could be decoded if that was not the last one asked for, otherwise null. */
  async run(clip: FrameReader, background: Background | null): Promise<number | null> {
    const { start, frames, bodies, seconds, orientation } = this.task
    const also = {
      colours: bodies.some(({ outline }) => outline === null),
      chroma: background !== null,
    }
    const last = () => frames[this.done - 1] ?? start
    let isOver = false
    try {
      // In one pass with the frame in which the bodies are learned: decoding begins only once.
      for await (const frame of lumaFrames(clip, [start, ...frames], orientation, also)) {
        if (frame.index === start) {
          this.bodies = await Promise.all(
            bodies.map((body) => beginBodyRun(frame, body, this.task, background)),
          )
          this.began = performance.now()
          continue
        }
        await this.searchFrame(frame, seconds[frame.index])
        this.done++
        isOver = this.isStopped || this.bodies.length === 0
        if (isOver) break
        if (performance.now() - this.lastNews > NEWS_MS && !this.isSending)
          void this.report(frame.index, null)
        if (this.isPaused) await this.paused(frame.index)
      }
    } finally {
      // Also if the footage can no longer be read: marks found until then are not lost.
      await this.report(last(), null)
    }
    return isOver || this.done === frames.length ? null : last()
  }

  /** Answers the current question. */
  answer(answer: Answer): void {
    this.onAnswer?.(answer)
    this.onAnswer = null
  }

  pause(isPaused: boolean): void {
    this.isPaused = isPaused
    if (!isPaused) this.resume?.()
  }

  /** Stops after the current frame. */
  stop(): void {
    this.isStopped = true
    this.onAnswer?.({ kind: 'stop' })
    this.resume?.()
  }

  /** Looks for every body in a frame; bodies near each other are looked for one after the other. */
  private async searchFrame(frame: LumaFrame, time: number): Promise<void> {
    const now = this.bodies
    const expected = now.map(({ guided: { follower } }) => {
      const { at, radius } = follower.reach(time)
      return { ...at, radius, size: follower.place().size }
    })
    const searchGroup = async (group: readonly number[]) => {
      for (const [k, i] of group.entries()) {
        // Earlier ones have been found; the others are expected at their predicted positions.
        const others = group.flatMap((j, m) =>
          m === k || now[j].guided.hiddenFor > 0 || !this.bodies.includes(now[j])
            ? []
            : [m < k ? now[j].guided.follower.place() : expected[j]],
        )
        await this.search(frame, now[i], time, others)
      }
    }
    await Promise.all(searchGroups(expected).map(searchGroup))
  }

  private async search(
    frame: LumaFrame,
    body: BodyRun,
    time: number,
    others: readonly Other[],
  ): Promise<void> {
    const { id, guided } = body
    const outcome = await guided.search((rect) => readFor(frame, body, rect), time, others)
    if (outcome.kind === 'found') {
      const { at, certainty, byOutline } = outcome
      this.marks.push({ body: id, frame: frame.index, ...at, certainty, byOutline })
    } else if (outcome.kind === 'left') {
      this.drop(body)
      this.left.push(id)
    } else if (outcome.kind === 'question') {
      const { kind: _, since, ...question } = outcome
      const { follower } = guided
      const hasNoOutline = follower instanceof Follower && !follower.hasSilhouette
      const answer = await this.ask({
        ...question,
        body: id,
        frame: frame.index,
        since: this.task.seconds.indexOf(since),
        isByColourBetter: hasNoOutline && (await this.hasOwnColour(id)),
      })
      if (answer.kind === 'stop') this.drop(body)
      else if (answer.kind === 'look on') guided.lookOn(time)
      else {
        const plane = await readFor(frame, body, guided.follower.showReach(answer.at))
        guided.show(plane, time, answer.at)
      }
    }
  }

  private drop(body: BodyRun): void {
    this.bodies = this.bodies.filter((other) => other !== body)
  }

  /** Asks the person; resolves with the answer, after all earlier questions. */
  private ask(question: Question): Promise<Answer> {
    const answered = this.asking.then(async () => {
      const asked = performance.now()
      void this.report(question.frame, question)
      const answer = await new Promise<Answer>((resolve) => {
        this.onAnswer = resolve
        if (this.isStopped) resolve({ kind: 'stop' })
      })
      this.began += performance.now() - asked
      return answer
    })
    this.asking = answered
    return answered
  }

  private async paused(frame: number): Promise<void> {
    const began = performance.now()
    void this.report(frame, null)
    await new Promise<void>((resolve) => {
      this.resume = resolve
    })
    this.began += performance.now() - began
  }

  /** Sends a progress report; resolves once it has been handled. Marks found meanwhile wait for the next one. */
  private async report(frame: number, question: Question | null): Promise<void> {
    const { done, marks } = this
    const [first] = this.bodies
    const follower = first?.guided.follower
    const isSeen = first?.guided.lastSearch?.certainty != null
    const news: FollowNews = {
      marks,
      frame,
      done,
      rate: (1000 * done) / Math.max(1, performance.now() - this.began),
      reaches: this.bodies.flatMap(({ id, guided: { lastSearch } }) =>
        lastSearch ? [{ body: id, ...lastSearch }] : [],
      ),
      question,
      matched: isSeen && follower instanceof Follower ? follower.matched() : null,
      left: [...this.left],
    }
    this.isSending = true
    this.marks = []
    this.lastNews = performance.now()
    try {
      await this.send(news)
    } finally {
      this.isSending = false
    }
  }
}
