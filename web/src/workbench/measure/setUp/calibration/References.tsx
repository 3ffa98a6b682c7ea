import { analyse } from '@apokinema/core/analysis'
import {
  lineAngle,
  meanPlacingError,
  referenceAngle,
  relativeScaleError,
  scaleOf,
  wrapAngle,
} from '@apokinema/core/geometry'
import { edits, inOrder, type Reference } from '@apokinema/core/investigation'
import { type ReferenceReport, referenceReports } from '@apokinema/core/scene'
import {
  fixed,
  LENGTH_NAMES,
  type LengthName,
  measurement,
  parseLength,
  withUnit,
} from '@apokinema/core/units'
import { Box, Button, Grid, HStack, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { Fold } from '../../../../common/Fold.tsx'
import { parseNumber, TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode, isLocked } from '../../../calibrating.ts'
import { lengthText, writtenLength } from '../../../lengths.ts'
import { stepButton, useNextStep } from '../../../nextStep.ts'
import { ProposedDivisions } from '../../../proposals/ProposedDivisions.tsx'
import { Facts } from '../Facts.tsx'
import { BehindMore } from '../Question.tsx'
import { SetUpRow } from '../SetUpRow.tsx'
import { Choice } from './Choice.tsx'
import { DepthFields } from './DepthFields.tsx'
import { referenceFacts } from './referenceFacts.ts'

/** All reference lengths, their agreement, and the unit in which lengths are shown. */
export function References() {
  const session = useSession()
  const investigation = useInvestigation()
  const { references, knownMotions, plane } = investigation
  const all = inOrder(references)
  const next = useNextStep()
  const reports = referenceReports(investigation, analyse(investigation).scene())
  const add = () => enterMode(session, { kind: 'reference', id: null, points: [] })
  const isKnownOtherwise = plane !== null || Object.keys(knownMotions).length > 0
  if (all.length === 0)
    return (
      <>
        <Box paddingX="4">
          <Button
            size="sm"
            width="100%"
            title="Something of known length, as far from the camera as the motion is"
            {...stepButton(next === 'scale')}
            onClick={add}
          >
            Draw along something you know
          </Button>
          {!plane && (
            <Button
              size="2xs"
              variant="plain"
              color="petrol"
              fontWeight="400"
              paddingX="0"
              height="5"
              title="The camera looks at the plane of motion at an angle, so that lengths change across the picture"
              onClick={() => enterMode(session, { kind: 'plane', points: [] })}
            >
              Seen at an angle? Place four corners
            </Button>
          )}
          <KnownMotions />
        </Box>
        <BehindMore isInUse={isKnownOtherwise}>
          <HStack paddingX="4" paddingY="1">
            <UnitChoice />
          </HStack>
        </BehindMore>
      </>
    )
  return (
    <>
      {all.map(([id, reference], i) => (
        <ReferenceEditor key={id} id={id} reference={reference} report={reports[i]} />
      ))}
      <Agreement />
      <Box paddingX="4">
        <KnownMotions />
      </Box>
      <BehindMore>
        <HStack paddingX="4" paddingTop="1" gap="2" justify="space-between">
          <Button size="2xs" variant="outline" onClick={add}>
            Add another
          </Button>
          <UnitChoice />
        </HStack>
      </BehindMore>
    </>
  )
}

/** The unit in which lengths are shown, and typed by default. */
function UnitChoice() {
  const session = useSession()
  const { lengthUnit } = useInvestigation()
  return (
    <HStack gap="2" fontSize="small" color="ink.muted">
      <Text whiteSpace="nowrap">shown in</Text>
      <NativeSelect.Root size="xs" width="4rem">
        <NativeSelect.Field
          aria-label="Unit of length"
          value={lengthUnit}
          onChange={(event) =>
            session.edit('choose the unit of length', edits.setLengthUnit(event.target.value as LengthName))
          }
        >
          {LENGTH_NAMES.map((unit) => (
            <option key={unit} value={unit}>
              {unit}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </HStack>
  )
}

/** Whether several contributions to the scale agree, and how they are combined. */
function Agreement() {
  const { scale } = analyse(useInvestigation()).scene()
  if (!scale || scale.count < 2) return null
  const percent = fixed(100 * scale.spread, 1)
  const how = scale.count === 2 ? 'These two differ' : `These ${scale.count} differ`
  return (
    <Text fontSize="small" color={scale.birge > 2 ? 'alarm' : 'ink.muted'} paddingX="4" paddingY="1">
      {how} by {withUnit(percent, '%')}
      {scale.birge > 2
        ? ', more than their errors allow: is one nearer to the camera, or misread? Their weighted mean is used, and its error is made wider for it.'
        : ', within their errors. Their weighted mean is used.'}
    </Text>
  )
}

/** Known motions that set the scale. */
function KnownMotions() {
  const session = useSession()
  const { knownMotions, stretches } = useInvestigation()
  return inOrder(knownMotions).map(([id, { stretch, value, error, derivative }]) => (
    <HStack key={id} fontSize="small" gap="2" paddingTop="1" align="start">
      <Text flex="1">
        The motion of stretch {stretches[stretch]?.number ?? '?'} is known:{' '}
        {measurement(value, error, derivative === 1 ? 'm/s' : 'm/s²')}.
      </Text>
      <Button
        size="2xs"
        variant="outline"
        onClick={() => {
          if (!isLocked(session, 'scale'))
            session.edit('forget the known motion', edits.removeKnownMotion(id))
        }}
      >
        Forget
      </Button>
    </HStack>
  ))
}

function ReferenceEditor({
  id,
  reference,
  report,
}: {
  id: string
  reference: Reference
  report: ReferenceReport
}) {
  const session = useSession()
  const { lengthUnit, gravity, plane } = useInvestigation()
  const scale = scaleOf(reference)
  const { angle, error } = referenceAngle(reference)
  const againstLevel = {
    angle: lineAngle(wrapAngle(angle - (gravity?.direction ?? -Math.PI / 2) - Math.PI / 2)),
    error,
  }
  const change = (label: string, what: Partial<Omit<Reference, 'order'>>) => {
    if (!isLocked(session, 'scale')) session.edit(label, edits.changeReference(id, what))
  }
  const percent = scale ? ` ±${fixed(100 * relativeScaleError(scale), 1)} %` : ''
  const written =
    reference.length === null ? '' : writtenLength(reference.length, reference.lengthError, lengthUnit)
  const isOff = reference.use === 'check' && report.sigmas !== null && report.sigmas > 3
  return (
    <SetUpRow
      state={isOff ? 'note' : scale ? 'done' : 'open'}
      place="scale"
      label={reference.name[0].toUpperCase() + reference.name.slice(1)}
      value={
        reference.length === null ? 'how long?' : `${lengthText(reference.length, lengthUnit)}${percent}`
      }
      defaultOpen={reference.length === null}
    >
      <Stack gap="2">
        <TextField
          label="How long is it really?"
          placeholder="1.40 m or 4 ft 9 in"
          value={written}
          autoFocus={reference.length === null}
          onCommit={(text) => {
            const length = parseLength(text, lengthUnit)
            if (!length) return 'A length above 0 such as 1.40 m, 85 cm, 4 ft 9 in or 1.400 ± 0.005 m.'
            change('tell the reference length', { length: length.metres, lengthError: length.error })
            return null
          }}
        />
        {reference.length === null && <ProposedDivisions id={id} reference={reference} />}
        <Facts
          rows={referenceFacts(reference, report, lengthUnit, scale !== null, plane ? null : againstLevel)}
        />
        <HStack gap="2">
          <Button
            size="2xs"
            variant="outline"
            onClick={() => enterMode(session, { kind: 'reference', id, points: [] })}
          >
            Place again
          </Button>
          <Button
            size="2xs"
            variant="outline"
            onClick={() => {
              if (!isLocked(session, 'scale'))
                session.edit('delete the reference length', edits.removeReference(id))
            }}
          >
            Delete
          </Button>
        </HStack>
        <Fold name="reference" label="Its name, error, use and depth">
          <ReferenceDetails reference={reference} change={change} />
        </Fold>
      </Stack>
    </SetUpRow>
  )
}

/** Name, placing error, source, use and depth of a reference length. */
function ReferenceDetails({
  reference,
  change,
}: {
  reference: Reference
  change(label: string, what: Partial<Omit<Reference, 'order'>>): void
}) {
  return (
    <Stack gap="2" paddingTop="2">
      <Grid templateColumns="1fr 1fr" gap="2">
        <TextField
          label="Name"
          value={reference.name}
          fontFamily="body"
          maxLength={120}
          onCommit={(text) => {
            if (!text) return 'A name, please.'
            change('rename the reference length', { name: text })
            return null
          }}
        />
        <TextField
          label="Ends ± px"
          value={String(Number(meanPlacingError(reference.ends).toFixed(2)))}
          inputMode="decimal"
          onCommit={(text) => {
            const value = parseNumber(text)
            if (value === null || value < 0 || value > 1000) return 'From 0 to 1000.'
            const [a, b] = reference.ends
            change('state the placing error', {
              ends: [
                { ...a, error: value },
                { ...b, error: value },
              ],
            })
            return null
          }}
        />
      </Grid>
      <TextField
        label="Where the value comes from"
        placeholder="painted on, tape measure, data sheet …"
        value={reference.note}
        fontFamily="body"
        maxLength={500}
        onCommit={(text) => {
          change('note where the length comes from', { note: text })
          return null
        }}
      />
      <Choice
        label="Used"
        value={reference.use}
        options={[
          ['scale', 'for the scale'],
          ['check', 'for checking only'],
        ]}
        onChoose={(use) => change('choose what the reference is for', { use })}
      />
      <DepthFields reference={reference} change={change} />
    </Stack>
  )
}
