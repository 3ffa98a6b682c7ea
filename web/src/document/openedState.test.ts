import { describe, expect, it, vi } from 'vitest'
import { beginOpenedState, openedState } from './openedState.ts'

describe('the state of the investigation that is open', () => {
  it('is changed part by part, and tells who listens to that part', () => {
    const times = openedState<{ seen: number | null; zoom: number }>('test times', { seen: null, zoom: 1 })
    const bands = openedState<{ fits: string[] }>('test bands', { fits: [] })
    const [ofTimes, ofBands] = [vi.fn(), vi.fn()]
    times.subscribe(ofTimes)
    const end = bands.subscribe(ofBands)
    times.setState({ seen: 3 })
    times.setState(({ zoom }) => ({ zoom: zoom + 1 }))
    expect(times.getState()).toEqual({ seen: 3, zoom: 2 })
    expect(ofTimes).toHaveBeenLastCalledWith({ seen: 3, zoom: 2 }, { seen: 3, zoom: 1 })
    expect(ofBands).not.toHaveBeenCalled()
    end()
    bands.setState({ fits: ['one'] })
    expect(ofBands).not.toHaveBeenCalled()
  })

  it('is as at the beginning whenever an investigation is opened', () => {
    const times = openedState<{ seen: number | null }>('test times of another', { seen: null })
    times.setState({ seen: 3 })
    beginOpenedState()
    expect(times.getState()).toEqual({ seen: null })
  })
})
