import type { OpenBook } from '@cold-thread/contract'
import {
  BY_PERSON,
  closureModelOf,
  CLOSURE_WORDS,
  compileSheet,
  CONNECTOR_WAYS,
  CONNECTOR_WORDS,
  constructionWord,
  factsOf,
  isSheet,
  ProcedureError,
  PROCEDURES,
  withOwnProcedures,
  WORK_WORDS,
  WORKS,
  type GivenLengths,
  type NoSheet,
  type RunSheet,
  type SheetFacts,
  type SheetInput,
  type Work,
} from '@cold-thread/core/open'
import { matingConflict, type Ferrule } from '@cold-thread/core/join'
import { fiberKind } from '@cold-thread/core/fiber'
import type { PlantBundle } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { usePlansQuery } from '../../api/api.ts'
import { Section } from '../../ui/Section.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { readNumber } from '../../ui/readNumber.ts'
import { ConnectorWays } from './ConnectorWays.tsx'
import { firstWork, mateAt, modelsFor, placesOf, type PlaceChoice } from './sheetPlaces.ts'
import { SelectField } from '../../ui/SelectField.tsx'

/** From where, which cable and what work to an ordered sheet; what the record does not know is asked for. */
export function StartSheet({
  book,
  busy,
  onBegin,
  onCancel,
  ...props
}: StageProps & {
  book: OpenBook
  busy: boolean
  onBegin(sheet: RunSheet | NoSheet): Promise<void>
  onCancel: (() => void) | null
}) {
  const { callout, plant } = props
  const { data: plans } = usePlansQuery(callout.id)
  const content = plans?.[0]?.content
  const places = placesOf(props, content ? { cable: content.cable, chainage: content.chainage } : null)
  const [placeId, setPlaceId] = useState<string | null>(null)
  const place = places.find(({ id }) => id === placeId) ?? places.find(({ panel }) => !panel) ?? places[0]
  if (!place) return <Alert severity="info">The link passes no place that can be opened.</Alert>
  return (
    <Section title="Begin a run sheet">
      <SelectField
        label="Where"
        value={place.id}
        onChoose={setPlaceId}
        sx={{ minWidth: 280, mt: 1, mb: 2, mr: 2 }}
        options={places.map(({ id, name, chainage }) => [id, `${name}, ${metres(chainage)}`] as const)}
      />
      <SheetForm
        key={place.id}
        place={place}
        mate={mateAt(props.link, place.node)}
        plant={plant}
        book={book}
        busy={busy}
        onBegin={onBegin}
        onCancel={onCancel}
      />
    </Section>
  )
}

/** The sheet by what ships and the operator's own; where those no longer fit each other there is none, and why. */
function compileWith(book: OpenBook, input: Omit<SheetInput, 'procedures'>): RunSheet | NoSheet {
  try {
    return compileSheet({ ...input, procedures: withOwnProcedures(PROCEDURES, book.procedures) })
  } catch (error) {
    if (!(error instanceof ProcedureError)) throw error
    return {
      why: `The operator’s own procedures do not fit those that ship: ${error.message}. Put them right under Closures’ sheets and procedures.`,
      lacks: [],
    }
  }
}

const POLISHES = ['PC', 'UPC', 'APC'] as const

function SheetForm({
  place,
  mate,
  plant,
  book,
  busy,
  onBegin,
  onCancel,
}: {
  place: PlaceChoice
  mate: Ferrule | null
  plant: PlantBundle
  book: OpenBook
  busy: boolean
  onBegin(sheet: RunSheet | NoSheet): Promise<void>
  onCancel: (() => void) | null
}) {
  const [cable, setCable] = useState(place.cables[0]!)
  const [work, setWork] = useState<Work>(firstWork(place))
  const models = modelsFor(place, plant, book)
  const [modelName, setModelName] = useState<string | null>(models[0] ?? null)
  const [polish, setPolish] = useState<(typeof POLISHES)[number]>(POLISHES.find((one) => one === mate?.polish) ?? 'UPC')
  /** What the person knows better than the record. */
  const [known, setKnown] = useState<Partial<SheetFacts>>({})
  const [diameter, setDiameter] = useState<string | null>(null)
  const [given, setGiven] = useState<Record<string, string>>({})
  const model = place.panel ? null : closureModelOf(modelName, book.closures)
  const recorded = factsOf(plant, { node: place.node, cable, chainage: place.chainage }, work, model)
  const measured = diameter === null || diameter.trim() === '' ? null : readNumber(diameter)
  const badDiameter =
    diameter !== null && diameter.trim() !== '' && (measured === null || measured < 1 || measured > 100)
  const facts: SheetFacts = {
    ...recorded,
    closureModel: modelName,
    // A new connector is one that fits what it will be mated with.
    ...(work === 'connector' && mate?.connector === 'LC' ? { ferrule: 'LC' as const } : {}),
    ...known,
    ...(diameter === null ? {} : { diameter: measured === null ? null : measured / 1000 }),
  }
  const own: GivenLengths = Object.fromEntries(
    Object.entries(given).flatMap(([id, text]) => {
      const value = readNumber(text)
      return value === null || value <= 0 || value > 100 ? [] : [[id, { min: value, max: value, by: BY_PERSON }]]
    }),
  )
  const outcome = compileWith(book, { facts, model, given: own })
  const asked = [...new Set([...(isSheet(outcome) ? [] : outcome.lacks.map(({ id }) => id)), ...Object.keys(given)])]
  const [labels, setLabels] = useState<Record<string, string>>({})
  if (!isSheet(outcome) && outcome.lacks.some(({ id }) => !(id in labels)))
    setLabels({ ...labels, ...Object.fromEntries(outcome.lacks.map(({ id, label }) => [id, label])) })
  const know = (some: Partial<SheetFacts>) => setKnown({ ...known, ...some })
  const tick = (label: string, value: boolean, set: (on: boolean) => void) => (
    <FormControlLabel
      control={<Checkbox checked={value} onChange={(event) => set(event.target.checked)} />}
      label={label}
      sx={{ minHeight: 44, mr: 2 }}
    />
  )
  const select = <T extends string>(
    label: string,
    value: T,
    options: readonly (readonly [T, string])[],
    set: (value: T) => void,
    width = 280,
  ) => (
    <SelectField
      label={label}
      value={value}
      onChoose={set}
      sx={{ width: { xs: '100%', sm: width }, mb: 2, mr: 2 }}
      options={options}
    />
  )
  const fiberType = plant.cables.find(({ id }) => id === cable)?.fiberType ?? ''
  const conflict =
    work === 'connector' && mate ? matingConflict({ connector: facts.ferrule ?? 'SC', polish }, mate) : null
  const cuts = work === 'bring-in' || work === 'prepare'
  /** A cable brought to a panel goes into a pigtail module. */
  const atModule = work === 'bring-in' && place.panel
  return (
    <>
      {select(
        'What is to be done',
        work,
        WORKS.filter(
          (one) =>
            (one === 'panel') === place.panel ||
            one === 'prepare' ||
            one === 'connector' ||
            (place.panel && one === 'bring-in'),
        ).map((one) => [one, WORK_WORDS[one]] as const),
        (value) => {
          setWork(value)
          setKnown({})
        },
        360,
      )}
      {select(
        'Cable',
        cable,
        place.cables.map((one) => [one, cableWords(plant, one)] as const),
        (value) => {
          setCable(value)
          setKnown({})
          setDiameter(null)
        },
      )}
      {(work === 're-enter' || work === 'bring-in') && !place.panel && models.length > 0 && (
        <>
          {select(
            'Closure',
            modelName ?? '',
            models.map((one) => [one, one] as const),
            setModelName,
          )}
        </>
      )}
      {work === 'connector' && (
        <>
          <ConnectorWays fiber={fiberKind(fiberType)} polish={polish} onTake={(connector) => know({ connector })} />
          {select(
            'Way',
            facts.connector ?? 'soft-coated',
            CONNECTOR_WAYS.map((way) => [way, CONNECTOR_WORDS[way]] as const),
            (connector) => know({ connector }),
          )}
          {select(
            'Connector',
            facts.ferrule ?? 'SC',
            [['SC', 'SC'] as const, ['LC', 'LC'] as const],
            (ferrule) => know({ ferrule }),
            140,
          )}
          {mate &&
            select(
              'Its polish',
              polish,
              POLISHES.map((one) => [one, one] as const),
              setPolish,
              140,
            )}
        </>
      )}
      {conflict !== null && (
        <Alert severity="error" variant="outlined" sx={{ mb: 2 }}>
          It mates with {mate!.connector}/{mate!.polish} by the record: {conflict}.
        </Alert>
      )}
      {cuts && !atModule && (
        <Box>
          <TextField
            label="Cable’s outer diameter, mm"
            value={
              diameter ?? (recorded.diameter === null ? '' : String(Number((recorded.diameter * 1000).toFixed(2))))
            }
            onChange={({ target }) => setDiameter(target.value)}
            error={badDiameter}
            helperText={
              badDiameter
                ? 'a number from 1 to 100'
                : facts.diameter === null
                  ? 'not on record: measure it'
                  : facts.diameter < facts.bushingBelow
                    ? `under ${Number((facts.bushingBelow * 1000).toFixed(1))} mm: tape and a bushing`
                    : ' '
            }
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            sx={{ width: 230, mr: 2, mb: 2 }}
          />
          {select(
            'Entry',
            facts.entry,
            [['end', 'at the cable’s end'] as const, ['mid-span', 'mid-span, cable not cut'] as const],
            (entry) => know({ entry }),
            230,
          )}
        </Box>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap' }}>
        {cuts &&
          tick('Armored', facts.armored, (armored) =>
            know({ armored, grounded: armored, metallic: armored || facts.metallic }),
          )}
        {work === 'bring-in' &&
          !atModule &&
          facts.armored &&
          tick('The operator grounds armor here', facts.grounded, (grounded) => know({ grounded }))}
        {cuts && !atModule && tick('Second jacket', facts.doubleJacket, (doubleJacket) => know({ doubleJacket }))}
        {cuts &&
          !atModule &&
          tick('Strength member to hold', facts.strengthMember, (strengthMember) => know({ strengthMember }))}
        {cuts && tick('Copper, tracer wire or messenger', facts.metallic, (metallic) => know({ metallic }))}
        {(work === 're-enter' || work === 'bring-in') &&
          !atModule &&
          tick('Closure in service', facts.inService, (inService) => know({ inService }))}
        {tick('Traffic on its fibers, or unknown', facts.live, (live) => know({ live }))}
        {work !== 'prepare' &&
          work !== 'connector' &&
          tick(
            `Traffic on other cables here${facts.neighbours.length > 0 ? ` (${facts.neighbours.join(', ')})` : ', or unknown'}`,
            facts.liveNeighbours,
            (liveNeighbours) => know({ liveNeighbours }),
          )}
      </Box>
      {work === 'bring-in' && !atModule && (
        <Box sx={{ mt: 1 }}>
          {select(
            'Sheath ends',
            facts.schools.sheathEnd,
            [['attachment', 'at the cable attachment'] as const, ['basket', 'in the basket'] as const],
            (sheathEnd) => know({ schools: { ...facts.schools, sheathEnd } }),
            230,
          )}
          {facts.armored &&
            facts.grounded &&
            select(
              'Ground cable goes on',
              facts.schools.groundCable,
              [['before-wedge', 'before the wedge'] as const, ['after-wedge', 'after the wedge'] as const],
              (groundCable) => know({ schools: { ...facts.schools, groundCable } }),
              230,
            )}
        </Box>
      )}
      {atModule &&
        select(
          'Pigtails of the module',
          facts.pigtails,
          [['single', 'one by one'] as const, ['ribbon', 'ribbons of 12'] as const],
          (pigtails) => know({ pigtails }),
          230,
        )}
      {work === 'prepare' &&
        facts.construction === 'active-4' &&
        select(
          'Connectors to make',
          facts.connectors > 1 ? 'several' : 'one',
          [['one', 'one'] as const, ['several', `two to ${facts.fiberCount}`] as const],
          (many) => know({ connectors: many === 'one' ? 1 : facts.fiberCount }),
          230,
        )}
      {asked.map((id) => (
        <TextField
          key={id}
          label={`${labels[id] ?? id}, m`}
          value={given[id] ?? ''}
          onChange={({ target }) => setGiven({ ...given, [id]: target.value })}
          helperText="from the closure’s sheet"
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          sx={{ width: 230, mr: 2, mb: 1 }}
        />
      ))}
      {isSheet(outcome) ? (
        <Typography sx={{ my: 1.5 }}>
          <strong>{outcome.name}</strong>: {outcome.steps.length} steps
          {facts.closure && ` for a ${CLOSURE_WORDS[facts.closure]}`}
          {cuts && `, ${constructionWord(facts.construction)} cable`}.
          {outcome.closure?.kind === 'gel-dome' &&
            outcome.closure.pressure === null &&
            ' The closure’s record has no test pressure: there will be no pressure test.'}
        </Typography>
      ) : (
        <Alert severity="warning" variant="outlined" sx={{ my: 1.5 }}>
          {outcome.why}
        </Alert>
      )}
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button
          variant="contained"
          size="large"
          disabled={busy || !isSheet(outcome) || badDiameter || conflict !== null}
          onClick={() => void onBegin(outcome)}
        >
          Begin this sheet
        </Button>
        {onCancel && <Button onClick={onCancel}>Back</Button>}
      </Box>
    </>
  )
}

function cableWords(plant: PlantBundle, id: string): string {
  const cable = plant.cables.find((one) => one.id === id)
  return cable ? `${id}, ${cable.fiberCount} fibers, ${constructionWord(cable.construction)}` : id
}
