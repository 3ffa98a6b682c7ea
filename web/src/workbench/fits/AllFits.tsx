import { createContext } from 'react'
import type { ShownFit } from './fits.ts'

/** All fits of the investigation that are shown, so that readings can be held against each other. */
export const AllFits = createContext<readonly ShownFit[]>([])
