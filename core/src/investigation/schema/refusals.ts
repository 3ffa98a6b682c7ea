import { object, string } from 'yup'
import { byKind, finite, frame, uuid } from './fields.ts'

const common = { order: finite(), kind: string().strict().required() }

/** A refusal that says no more than what was refused. */
const plain = object(common).noUnknown().strict()

export const refusal = byKind({
  body: object({ ...common, frame: frame().required(), x: finite(), y: finite() })
    .noUnknown()
    .strict(),
  span: plain,
  stretch: object({ ...common, body: uuid(), from: frame().required(), to: frame().required() })
    .noUnknown()
    .strict(),
  'capture-rate': plain,
  camera: plain,
  axes: object({ ...common, body: uuid() })
    .noUnknown()
    .strict(),
  divisions: object({ ...common, reference: uuid() })
    .noUnknown()
    .strict(),
})
