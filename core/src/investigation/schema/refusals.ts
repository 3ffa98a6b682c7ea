import { object, string } from 'yup'
import { byKind, finite, frame } from './fields.ts'

const common = { order: finite(), kind: string().strict().required() }

export const refusal = byKind({
  body: object({ ...common, frame: frame().required(), x: finite(), y: finite() })
    .noUnknown()
    .strict(),
  span: object(common).noUnknown().strict(),
})
