import type { ValueFormat, ValuePart } from '@apokinema/core/investigation'
import { Stack } from '@chakra-ui/react'
import { NodeSelection } from '@tiptap/pm/state'
import { useEditorState } from '@tiptap/react'
import { Select } from '../../../common/Select.tsx'
import { TickBox } from '../../../common/TickBox.tsx'
import type { Writing } from '../editor/writing.ts'
import { EquationField } from './EquationField.tsx'

/** Settings of the live value or the equation that is selected in the text. */
export function ChipSettings({ writing }: { writing: Writing }) {
  const { editor } = writing
  const chip = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      if (!now) return null
      const { selection } = now.state
      if (!(selection instanceof NodeSelection) || selection.$from.depth === 0) return null
      return { name: selection.node.type.name, attrs: selection.node.attrs, at: selection.from }
    },
  })
  if (!editor || !chip) return null
  const set = (attrs: object) =>
    editor
      .chain()
      .command(({ tr }) => {
        tr.setNodeMarkup(chip.at, null, { ...chip.attrs, ...attrs }).setSelection(
          NodeSelection.create(tr.doc, chip.at),
        )
        return true
      })
      .run()
  if (chip.name === 'inlineEquation')
    return (
      <EquationField
        tex={chip.attrs.tex as string}
        set={(tex) => set({ tex })}
        done={() => editor.commands.focus(chip.at + 1)}
      />
    )
  if (chip.name !== 'value') return null
  const format = chip.attrs.format as ValueFormat
  const change = (part: Partial<ValueFormat>) => set({ format: { ...format, ...part } })
  return (
    <Stack gap="2" data-value-settings>
      <Select
        label="Show"
        value={format.part}
        options={[
          ['measurement', 'value ± error'],
          ['value', 'value'],
          ['error', 'error'],
          ['percent-error', 'error in percent'],
          ['unit', 'unit'],
        ]}
        choose={(part) => change({ part: part as ValuePart })}
      />
      <Select
        label="Significant digits"
        value={String(format.digits ?? '')}
        options={[
          ['', 'as the error says'],
          ...[1, 2, 3, 4, 5, 6].map((digits) => [String(digits), `${digits} digits`] as const),
        ]}
        choose={(digits) => change({ digits: digits === '' ? null : Number(digits) })}
      />
      <TickBox on={format.withUnit} set={(withUnit) => change({ withUnit })}>
        with its unit
      </TickBox>
    </Stack>
  )
}
