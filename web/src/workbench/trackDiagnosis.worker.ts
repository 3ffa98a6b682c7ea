import { diagnoseTrack } from '@apokinema/core/motion'
import * as Comlink from 'comlink'

Comlink.expose(diagnoseTrack)
