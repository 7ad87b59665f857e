import type { SpliceSessionEntry } from '@cold-thread/contract'
import {
  FIBER_MODES,
  NO_CONDITIONS,
  setupFaults,
  SLEEVES,
  spliceQueue,
  type Conditions,
  type FiberMode,
  type SessionSetup,
  type Sleeve,
} from '@cold-thread/core/join'
import { RULE_BOOKS } from '@cold-thread/core/prove'
import { kindName, whyUnfit, type Kit, type KitItem } from '@cold-thread/core/kit'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useKitQuery, usePlansQuery } from '../../api/api.ts'
import { useEnter } from '../../api/useEnter.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { ConditionFields, readConditions } from './ConditionFields.tsx'
import { placeOf } from './sessions.ts'
import { useSites } from './sites.ts'

const NO_KIT: Kit['items'] = []

/** Splicer, cleaver, programs and place: with that the queue stands, and the arc wants its calibration. */
export function StartSession({ callout, plant, link }: StageProps) {
  const { sites, locating } = useSites({ callout, plant, link })
  const { data: kit } = useKitQuery()
  const { data: plans } = usePlansQuery(callout.id)
  const { enter, error, busy } = useEnter(callout.id)
  const [siteKey, setSiteKey] = useState<string | null>(null)
  const [ribbon, setRibbon] = useState(false)
  const [splicer, setSplicer] = useState<string | null>(null)
  const [cleaver, setCleaver] = useState<string | null>(null)
  const [mode, setMode] = useState<FiberMode>('single-mode')
  const [heater, setHeater] = useState<Sleeve>(60)
  const [sleeve, setSleeve] = useState<Sleeve>(60)
  const [rules, setRules] = useState('standard')
  const [texts, setTexts] = useState<Partial<Record<keyof Conditions, string>>>({})
  const site = sites.find(({ key }) => key === siteKey) ?? sites[0]
  if (!site) return null
  // The place would change under the finger when the fault has been located.
  const unplaced = locating && siteKey === null
  const items = kit?.kit.items ?? NO_KIT
  const splicers = items.filter(({ kind }) => kind === 'splicer' || kind === 'ribbon splicer')
  const cleavers = items.filter(({ kind }) => kind === 'cleaver')
  const conditions = readConditions(texts)
  const fit = splicers.find(({ kind }) => kind === (ribbon ? 'ribbon splicer' : 'splicer')) ?? splicers[0]
  const setup: SessionSetup = {
    splicer: splicer ?? fit?.id ?? null,
    cleaver: cleaver ?? cleavers[0]?.id ?? null,
    ribbon,
    mode,
    heater,
    sleeve,
    conditions: conditions ?? NO_CONDITIONS,
    rules: rules === 'tight' ? 'tight' : 'standard',
  }
  const hit = plans?.[0]?.content.hit ?? null
  const session: SpliceSessionEntry = {
    kind: 'splice-session',
    node: site.node,
    chainage: site.chainage,
    cable: site.cable,
    fibers: site.node === null ? hit : null,
    setup,
  }
  const queue = spliceQueue(plant, placeOf(session), ribbon)
  const faults = setupFaults(setup)
  const chosen = (list: readonly KitItem[], id: string | null) => list.find((item) => item.id === id)
  const worn = [chosen(splicers, setup.splicer), chosen(cleavers, setup.cleaver)].flatMap((item) => {
    const why = item ? whyUnfit(item, null) : null
    return item && why !== null ? [`${kindName(item.kind)} ${item.name}: ${why}`] : []
  })
  const select = <T extends string | number>(
    label: string,
    value: T,
    options: readonly (readonly [T, string])[],
    set: (value: T) => void,
    helperText?: string,
  ) => (
    <SelectField
      label={label}
      value={value}
      onChoose={set}
      helperText={helperText}
      sx={{ width: { xs: '100%', sm: 340 } }}
      options={options}
    />
  )
  const forSingle = ribbon && chosen(splicers, setup.splicer)?.kind === 'splicer'
  const warnings = [...worn, ...(forSingle ? ['this splicer takes single fibers: ribbons need a ribbon splicer'] : [])]
  return (
    <Section title="Begin a splicing session">
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, mt: 1, mb: 1.5 }}>
        {select(
          'Joints at',
          site.key,
          sites.map(({ key, label }) => [key, label] as const),
          setSiteKey,
          unplaced ? 'the fault is still being located' : undefined,
        )}
        {splicers.length > 0 &&
          select(
            'Splicer',
            setup.splicer!,
            splicers.map((item) => [item.id, withWear(item)] as const),
            setSplicer,
          )}
        {cleavers.length > 0 &&
          select(
            'Cleaver',
            setup.cleaver!,
            cleavers.map((item) => [item.id, withWear(item)] as const),
            setCleaver,
          )}
        {select(
          'Limits',
          rules,
          RULE_BOOKS.map(
            ({ name, splice }) =>
              [
                name,
                `${name}: good to ${splice.good.value.toFixed(2)}, most ${splice.limit.value.toFixed(2)} dB`,
              ] as const,
          ),
          setRules,
        )}
        {select(
          'Fiber mode',
          mode,
          FIBER_MODES.map((one) => [one, one] as const),
          setMode,
        )}
        {select(
          'Sleeves, mm',
          sleeve,
          SLEEVES.map((one) => [one, String(one)] as const),
          (value) => {
            setSleeve(value)
            setHeater(value)
          },
        )}
        {select(
          'Heater set for, mm',
          heater,
          SLEEVES.map((one) => [one, String(one)] as const),
          setHeater,
        )}
      </Box>
      <FormControlLabel
        control={<Checkbox checked={ribbon} onChange={({ target }) => setRibbon(target.checked)} />}
        label="Ribbons of 12"
        sx={{ minHeight: 44 }}
      />
      <Box component="details" sx={{ mb: 1.5 }}>
        <Box component="summary" sx={{ py: 1.25, cursor: 'pointer' }}>
          Altitude and weather, as the splicer shows them
        </Box>
        <ConditionFields texts={texts} onTexts={setTexts} />
      </Box>
      {[...faults, ...warnings].map((fault) => (
        <Alert key={fault} severity={faults.includes(fault) ? 'error' : 'warning'} variant="outlined" sx={{ mb: 1 }}>
          {fault}
        </Alert>
      ))}
      <Typography sx={{ mb: 1.5 }}>
        {queue.length === 1 ? '1 splice' : `${queue.length} splices`} to make, most important circuits first. Splice at
        the surface, in the vehicle or tent: never in a chamber, never near gas.
      </Typography>
      <Button
        variant="contained"
        size="large"
        disabled={busy || unplaced || faults.length > 0 || conditions === null || queue.length === 0}
        onClick={() => void enter(session)}
        sx={{ minHeight: 56 }}
      >
        Begin the session
      </Button>
      <Problem error={error} />
    </Section>
  )
}

function withWear({ name, wear }: KitItem): string {
  return wear ? `${name}, ${wear.used} of ${wear.due} ${wear.unit}` : name
}
