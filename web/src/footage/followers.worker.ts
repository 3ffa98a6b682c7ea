import * as Comlink from 'comlink'
import { Followers } from './followers.ts'

/** Followers of some of the bodies of a run, in a thread of their own. */
Comlink.expose(new Followers())
