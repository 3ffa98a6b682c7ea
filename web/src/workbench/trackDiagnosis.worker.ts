import { diagnoseTrack } from '@apokinema/core/motion'
import { bodyStretches } from '@apokinema/core/proposals'
import * as Comlink from 'comlink'

const worker = { diagnoseTrack, bodyStretches }

export type TrackWorker = typeof worker

Comlink.expose(worker)
