import type { OpenBook } from '@cold-thread/contract'
import {
  closureModelOf,
  CONNECTOR_WORDS,
  constructionWord,
  DEFAULT_SCHOOLS,
  LENGTH_RULES,
  lengthOf,
  lengthRulesFor,
  preparedConstructions,
  prepareEnd,
  spanInWords,
  type ConnectorWay,
  type GivenLengths,
  type Paper,
  type Preparation,
  type SheetFacts,
  type TemplateStrip,
} from '@cold-thread/core/open'
import type { Cable } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import CircularProgress from '@mui/material/CircularProgress'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useOpenBookQuery, usePlantQuery } from '../../api/api.ts'
import { unitsChosen } from '../../app/settings.ts'
import { useAppDispatch, useAppSelector } from '../../app/store.ts'
import { Problem } from '../../ui/Problem.tsx'
import { readNumber } from '../../ui/readNumber.ts'
import { Section } from '../../ui/Section.tsx'
import { ScaleDrawing } from './ScaleDrawing.tsx'

function plainFacts(some: Partial<SheetFacts>): SheetFacts {
  return {
    work: 'prepare',
    node: null,
    place: 'bench',
    cable: null,
    construction: 'loose-tube',
    fiberCount: 12,
    groups: 1,
    groupWord: 'tube',
    armored: false,
    doubleJacket: false,
    strengthMember: true,
    metallic: false,
    diameter: null,
    entry: 'end',
    closure: null,
    closureModel: null,
    port: null,
    cables: 0,
    inService: false,
    live: true,
    ground: 'indoor',
    schools: DEFAULT_SCHOOLS,
    connector: null,
    ferrule: null,
    ...some,
  }
}

/** How much comes off: every length from the cable's end, to scale, and as a template in true size. */
export function LengthsPage() {
  const { data: book, error } = useOpenBookQuery()
  const { data: plant, error: plantError } = usePlantQuery()
  const units = useAppSelector((state) => state.settings.units)
  const dispatch = useAppDispatch()
  if (!book || !plant)
    return error || plantError ? <Problem error={error ?? plantError} /> : <CircularProgress aria-label="Loading" />
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Lengths
        </Typography>
        <FormControlLabel
          control={
            <Checkbox
              checked={units === 'metric and inches'}
              onChange={({ target }) => dispatch(unitsChosen(target.checked ? 'metric and inches' : 'metric'))}
            />
          }
          label="Inches beside metres"
        />
      </Box>
      <CableLengths book={book.book} cables={plant.bundle?.cables ?? []} />
      <ConnectorLengths />
      <OwnTemplate />
    </>
  )
}

function CableLengths({ book, cables }: { book: OpenBook; cables: readonly Cable[] }) {
  const units = useAppSelector((state) => state.settings.units)
  const [cableId, setCableId] = useState(cables[0]?.id ?? '')
  const cable = cables.find(({ id }) => id === cableId)
  const [construction, setConstruction] = useState(cable?.construction ?? 'loose-tube')
  const [modelName, setModelName] = useState(book.closures[0]?.model ?? '')
  const [armored, setArmored] = useState(cable?.armored ?? false)
  const [doubleJacket, setDoubleJacket] = useState(cable?.doubleJacket ?? false)
  const [diameter, setDiameter] = useState(
    cable?.outerDiameter ? String(Number((cable.outerDiameter * 1000).toFixed(2))) : '',
  )
  const [sheath, setSheath] = useState('')
  const model = closureModelOf(modelName || null, book.closures)
  const own = readNumber(sheath)
  const badSheath = sheath.trim() !== '' && (own === null || own <= 0 || own > 20)
  const mm = readNumber(diameter)
  const badDiameter = diameter.trim() !== '' && (mm === null || mm < 1 || mm > 100)
  const given: GivenLengths = {
    ...model?.lengths,
    ...(model?.storingRadius ? { 'storing-radius': { min: model.storingRadius, max: model.storingRadius } } : {}),
    ...(own === null || badSheath ? {} : { sheath: { min: own, max: own } }),
  }
  const facts = plainFacts({
    construction,
    armored,
    doubleJacket,
    strengthMember: construction === 'loose-tube',
    diameter: mm === null || badDiameter ? null : mm / 1000,
  })
  const end = prepareEnd(facts, given)
  const take = (id: string) => {
    const next = cables.find((one) => one.id === id)
    setCableId(id)
    if (!next) return
    setConstruction(next.construction)
    setArmored(next.armored ?? false)
    setDoubleJacket(next.doubleJacket ?? false)
    setDiameter(next.outerDiameter ? String(Number((next.outerDiameter * 1000).toFixed(2))) : '')
  }
  const constructions = [...new Set([...preparedConstructions(), construction])]
  return (
    <Section title="Cable end">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mt: 1, mb: 1 }}>
        {cables.length > 0 && (
          <TextField
            select
            label="Cable"
            value={cableId}
            onChange={({ target }) => take(target.value)}
            sx={{ minWidth: 150 }}
          >
            {cables.map(({ id }) => (
              <MenuItem key={id} value={id}>
                {id}
              </MenuItem>
            ))}
            <MenuItem value="">another</MenuItem>
          </TextField>
        )}
        <TextField
          select
          label="Construction"
          value={construction}
          onChange={({ target }) => {
            // It is no longer the cable on record.
            setConstruction(target.value)
            setCableId('')
          }}
          sx={{ minWidth: 240 }}
        >
          {constructions.map((name) => (
            <MenuItem key={name} value={name}>
              {constructionWord(name)}
            </MenuItem>
          ))}
        </TextField>
        {book.closures.length > 0 && (
          <TextField
            select
            label="Closure"
            value={modelName}
            onChange={({ target }) => setModelName(target.value)}
            sx={{ minWidth: 240 }}
          >
            {book.closures.map((one) => (
              <MenuItem key={one.model} value={one.model}>
                {one.model}
              </MenuItem>
            ))}
            <MenuItem value="">none of these</MenuItem>
          </TextField>
        )}
        <TextField
          label="Sheath off, m"
          value={sheath}
          onChange={({ target }) => setSheath(target.value)}
          error={badSheath}
          helperText={badSheath ? 'above 0, 20 at most' : 'where you know better than the table'}
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          sx={{ width: 190 }}
        />
        <TextField
          label="Outer diameter, mm"
          value={diameter}
          onChange={({ target }) => setDiameter(target.value)}
          error={badDiameter}
          helperText={badDiameter ? '1 to 100' : ' '}
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          sx={{ width: 170 }}
        />
      </Box>
      <Box sx={{ mb: 1 }}>
        <FormControlLabel
          control={<Checkbox checked={armored} onChange={({ target }) => setArmored(target.checked)} />}
          label="Armored"
        />
        <FormControlLabel
          control={<Checkbox checked={doubleJacket} onChange={({ target }) => setDoubleJacket(target.checked)} />}
          label="Second jacket"
        />
      </Box>
      {end === null ? (
        <Alert severity="warning" variant="outlined">
          No lengths here for a cable of construction “{construction}”: use the maker’s sheet.
        </Alert>
      ) : 'lacks' in end ? (
        <Alert severity="warning" variant="outlined">
          How much sheath comes off is in no table: take it from the closure’s sheet and enter it.
        </Alert>
      ) : (
        <Prepared
          name={`${constructionWord(construction)}${cable ? `, ${cable.id}` : ''}`}
          end={end}
          slack={model?.lengths ?? {}}
          units={units}
        />
      )}
    </Section>
  )
}

function Prepared({
  name,
  end,
  slack,
  units,
}: {
  name: string
  end: Preparation
  slack: GivenLengths
  units: Parameters<typeof spanInWords>[1]
}) {
  const kept = (['basket-slack', 'tray-slack'] as const).flatMap((id) =>
    slack[id] ? [{ label: LENGTH_RULES.find((rule) => rule.id === id)!.label, span: slack[id] }] : [],
  )
  const needed = kept.reduce((sum, { span }) => sum + span.min, 0)
  const short = kept.length > 0 && needed > end.free.min
  return (
    <>
      <Typography sx={{ fontSize: 20, mb: 0.5 }}>
        Mark the sheath at <strong>{spanInWords(end.layers[0]!.endsAt, units)}</strong>
        {end.cutOff.max > 0 && <>, cut {spanInWords(end.cutOff, units)} off the ends</>}; free in the end{' '}
        {spanInWords(end.free, units)}.
      </Typography>
      {kept.length > 0 && (
        <Typography sx={{ mb: 0.5 }}>
          To be kept: {kept.map(({ label, span }) => `${label} ${spanInWords(span, units)}`).join(', ')};{' '}
          {short
            ? `that is more than is free. Take ${spanInWords({ min: needed - end.free.min, max: needed - end.free.min }, units)} more sheath off.`
            : `${spanInWords({ min: end.free.min - needed, max: end.free.min - needed }, units)} to spare.`}
        </Typography>
      )}
      <Typography sx={{ mb: 1 }}>
        Bend no tighter than{' '}
        {end.bends
          .map(({ name: what, radius }) => `${spanInWords({ min: radius, max: radius }, units)} (${what})`)
          .join(', ')}
        .
      </Typography>
      <ScaleDrawing preparation={end} units={units} />
      <Box sx={{ mt: 1.5 }}>
        <PaperButtons
          strip={{
            name,
            marks: [
              ...end.layers.flatMap(({ name: layer, endsAt }) => [
                { at: endsAt.min * 1000, label: endsAt.min === endsAt.max ? layer : `${layer}, least` },
                ...(endsAt.min === endsAt.max ? [] : [{ at: endsAt.max * 1000, label: `${layer}, most` }]),
              ]),
              ...end.marks.map(({ name: mark, at }) => ({ at: at.max * 1000, label: mark })),
            ].filter(({ at }) => at > 0),
          }}
        />
      </Box>
    </>
  )
}

const CONNECTORS: { way: ConnectorWay; ferrule: 'SC' | 'LC'; lengths: readonly string[] }[] = [
  { way: 'soft-coated', ferrule: 'SC', lengths: ['soft-jacket', 'soft-coating', 'soft-cleave-sc'] },
  { way: 'soft-coated', ferrule: 'LC', lengths: ['soft-jacket', 'soft-coating', 'soft-cleave-lc'] },
  { way: 'tube-900', ferrule: 'SC', lengths: ['tube-off', 'tube-cleave-sc'] },
  { way: 'field-lc', ferrule: 'LC', lengths: ['lc-buffer', 'lc-cleave'] },
]

function ConnectorLengths() {
  const units = useAppSelector((state) => state.settings.units)
  const rules = lengthRulesFor(plainFacts({ work: 'connector' }))
  return (
    <Section title="Connectors">
      <Typography sx={{ mb: 1 }}>Common practice; the connector’s own sheet comes first.</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Way</TableCell>
            <TableCell>Lengths</TableCell>
            <TableCell>1:1</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {CONNECTORS.map(({ way, ferrule, lengths }) => {
            const spans = lengths.map((id) => lengthOf(id, {}, rules)!)
            const name = `${CONNECTOR_WORDS[way]}${way === 'field-lc' ? '' : `, ${ferrule}`}`
            return (
              <TableRow key={name}>
                <TableCell component="th" scope="row">
                  {name}
                </TableCell>
                <TableCell>{spans.map((span) => `${span.label} ${spanInWords(span, units)}`).join('; ')}</TableCell>
                <TableCell>
                  <PaperButtons strip={{ name, marks: spans.map(({ label, max }) => ({ at: max * 1000, label })) }} />
                </TableCell>
              </TableRow>
            )
          })}
        </TableBody>
      </Table>
    </Section>
  )
}

/** Lengths of a sheet that is not here, drawn in true size. */
function OwnTemplate() {
  const [texts, setTexts] = useState({ jacket: '', coating: '', cleave: '' })
  const labels = { jacket: 'Jacket off, mm', coating: 'Coating off, mm', cleave: 'Cleave, mm' } as const
  const read = Object.entries(texts).map(([key, text]) => ({
    key: key as keyof typeof labels,
    text,
    value: readNumber(text),
  }))
  const bad = (value: number | null, text: string) =>
    text.trim() !== '' && (value === null || value <= 0 || value > 5000)
  const marks = read.flatMap(({ key, value, text }) =>
    value === null || bad(value, text) ? [] : [{ at: value, label: labels[key].replace(', mm', '') }],
  )
  return (
    <Section title="By another sheet">
      <Typography sx={{ mb: 1.5 }}>
        Enter what the connector’s or the closure’s sheet says, each from the fiber’s end.
      </Typography>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mb: 1.5 }}>
        {read.map(({ key, text, value }) => (
          <TextField
            key={key}
            label={labels[key]}
            value={text}
            onChange={({ target }) => setTexts({ ...texts, [key]: target.value })}
            error={bad(value, text)}
            helperText={bad(value, text) ? 'above 0, 5,000 at most' : ' '}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            sx={{ width: 170 }}
          />
        ))}
      </Box>
      <PaperButtons
        strip={{ name: 'Strip and cleave, by its own sheet', marks }}
        disabled={marks.length === 0 || read.some(({ value, text }) => bad(value, text))}
      />
    </Section>
  )
}

/** The template as PDF, for either paper. */
function PaperButtons({ strip, disabled = false }: { strip: TemplateStrip; disabled?: boolean }) {
  const [problem, setProblem] = useState<unknown>(null)
  const save = async (paper: Paper) => {
    setProblem(null)
    try {
      const { templatePdf } = await import('./templatePdf.ts')
      const bytes = await templatePdf(strip, paper)
      const url = URL.createObjectURL(new Blob([bytes as BlobPart], { type: 'application/pdf' }))
      const anchor = Object.assign(document.createElement('a'), {
        href: url,
        download: `template-${strip.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}-${paper.toLowerCase()}.pdf`,
      })
      anchor.click()
      setTimeout(() => URL.revokeObjectURL(url), 10_000)
    } catch (error) {
      setProblem(error)
    }
  }
  return (
    <Box className="not-on-paper" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
      {(['A4', 'Letter'] as const).map((paper) => (
        <Button
          key={paper}
          variant="outlined"
          disabled={disabled}
          onClick={() => void save(paper)}
          aria-label={`1:1 template of ${strip.name}, ${paper}`}
        >
          1:1 PDF, {paper}
        </Button>
      ))}
      <Problem error={problem} />
    </Box>
  )
}
