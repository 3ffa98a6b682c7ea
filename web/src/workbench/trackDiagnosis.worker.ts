import { diagnoseTrack } from '@apokinema/core/motion'
import { bodyProposals } from '@apokinema/core/proposals'
import * as Comlink from 'comlink'

const worker = { diagnoseTrack, bodyProposals }

export type TrackWorker = typeof worker

Comlink.expose(worker)
