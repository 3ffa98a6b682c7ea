import { object, string } from 'yup'
import { byKind, finite, frame, uuid } from './fields.ts'

const common = { order: finite(), kind: string().strict().required() }

export const refusal = byKind({
  body: object({ ...common, frame: frame().required(), x: finite(), y: finite() })
    .noUnknown()
    .strict(),
  span: object(common).noUnknown().strict(),
  stretch: object({ ...common, body: uuid(), from: frame().required(), to: frame().required() })
    .noUnknown()
    .strict(),
})
