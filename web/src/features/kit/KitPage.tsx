import type { Account, KitRecord } from '@cold-thread/contract'
import { KIT_KINDS, kindName, whyUnfit, type Kit, type KitItem } from '@cold-thread/core/kit'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import IconButton from '@mui/material/IconButton'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { AddIcon, RemoveIcon } from '../../ui/icons.tsx'
import { useKitQuery, useSaveKitMutation } from '../../api/api.ts'
import { isStale } from '../../api/errorText.ts'
import { canLead, canWork } from '../../app/rights.ts'
import { useKeptDraft, type KeptDraft } from '../../field/useKeptDraft.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { HoursSection } from './HoursSection.tsx'
import { KitConflict } from './KitConflict.tsx'
import { ItemDialog } from './ItemDialog.tsx'
import { PeopleSection } from './PeopleSection.tsx'
import { RentOrBuy } from './RentOrBuy.tsx'

const GROUPS = [
  ['instrument', 'Instruments'],
  ['tool', 'Tools'],
  ['access', 'Access'],
  ['part', 'Parts'],
  ['consumable', 'Consumables'],
  ['cord', 'Cords'],
  ['safety', 'Safety'],
  ['own', 'Of our own'],
] as const

/** People, things and hours that plans are made with. */
export function KitPage({ account }: { account: Account }) {
  const { data, error } = useKitQuery()
  const draft = useKeptDraft<KitDraft>('kit')
  if (error) return <Problem error={error} />
  if (!data || !draft) return <CircularProgress aria-label="Loading" />
  return <KitForm account={account} now={data} {...draft} />
}

/** A kit that is being changed, and the one that it was. */
interface KitDraft {
  base: KitRecord
  kit: Kit
}

/**
 * @param now the kit as the server has it: it may be newer than what is being changed here
 * @param left changes that an earlier visit left unsaved
 */
function KitForm({ account, now, left, keep }: { account: Account; now: KitRecord } & KeptDraft<KitDraft>) {
  const [base, setBase] = useState(left?.base ?? now)
  const [kit, setKit] = useState(left?.kit ?? now.kit)
  const [save, { error, isLoading, reset }] = useSaveKitMutation()
  const { refetch } = useKitQuery()
  const working = canWork(account)
  const changed = kit !== base.kit
  const takeOver = (record: KitRecord, mine = record.kit) => {
    setBase(record)
    setKit(mine)
    reset()
  }
  useEffect(() => keep(changed ? { base, kit } : null), [keep, changed, base, kit])
  // Nothing is changed here yet: what others saved stands at once.
  if (now.version !== base.version && !changed) takeOver(now)
  const put = async () => {
    const { data, error: refused } = await save({ kit, version: base.version })
    if (data) takeOver(data)
    else if (isStale(refused)) void refetch()
  }
  return (
    <>
      <Box
        sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', mb: 2, gap: 1, flexWrap: 'wrap' }}
      >
        <Typography variant="h1">Kit</Typography>
        {working && changed && (
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <Typography>Changes are not saved yet.</Typography>
            <Button onClick={() => takeOver(now)}>Drop them</Button>
            <Button variant="contained" disabled={isLoading || now.version > base.version} onClick={() => void put()}>
              Save the kit
            </Button>
          </Box>
        )}
      </Box>
      {now.version > base.version ? (
        <KitConflict base={base.kit} mine={kit} theirs={now.kit} onSettled={(settled) => takeOver(now, settled)} />
      ) : (
        <Problem error={error} />
      )}
      <Due items={kit.items} />
      <PeopleSection kit={kit} onChange={working ? setKit : null} />
      <Things kit={kit} onChange={working ? setKit : null} />
      <HoursSection kit={kit} onChange={working ? setKit : null} />
      {canLead(account) && <RentOrBuy />}
    </>
  )
}

/** What must not be used any more, first of all. */
function Due({ items }: { items: readonly KitItem[] }) {
  const today = new Date().toISOString().slice(0, 10)
  const due = items.flatMap((item) => {
    const why = whyUnfit(item, today)
    return why === null ? [] : [{ item, why }]
  })
  const soon = items.filter(({ wear }) => wear && wear.used < wear.due && wear.used >= 0.95 * wear.due)
  if (due.length + soon.length === 0) return null
  return (
    <Section title="To be seen to">
      {due.map(({ item, why }) => (
        <Typography key={item.id}>
          <Judgement tone="bad" word="not for use" /> {kindName(item.kind)} {item.name}, {item.place}: {why}. Plans do
          not count it.
        </Typography>
      ))}
      {soon.map((item) => (
        <Typography key={item.id}>
          <Judgement tone="close" word="soon due" /> {kindName(item.kind)} {item.name}, {item.place}:{' '}
          {item.wear!.used.toLocaleString('en-GB')} of {item.wear!.due.toLocaleString('en-GB')} {item.wear!.unit}
        </Typography>
      ))}
    </Section>
  )
}

function Things({ kit, onChange }: { kit: Kit; onChange: ((kit: Kit) => void) | null }) {
  const [search, setSearch] = useState('')
  const [edited, setEdited] = useState<KitItem | null>(null)
  const put = (item: KitItem) => {
    const known = kit.items.some(({ id }) => id === item.id)
    onChange?.({
      ...kit,
      items: known ? kit.items.map((other) => (other.id === item.id ? item : other)) : [...kit.items, item],
    })
  }
  const groupOf = (item: KitItem) => KIT_KINDS.find(({ kind }) => kind === item.kind)?.group ?? 'own'
  const found = kit.items.filter((item) =>
    `${kindName(item.kind)} ${item.name} ${item.place} ${item.fits.join(' ')}`
      .toLowerCase()
      .includes(search.toLowerCase()),
  )
  return (
    <Section
      title="Things"
      action={
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <TextField size="small" label="Find" value={search} onChange={(event) => setSearch(event.target.value)} />
          {onChange && (
            <Button variant="outlined" onClick={() => setEdited(newItem())}>
              Add a thing
            </Button>
          )}
        </Box>
      }
    >
      {kit.items.length === 0 && (
        <Typography>Nothing is entered yet: plans say of everything that it is not at hand.</Typography>
      )}
      <Box sx={{ overflowX: 'auto' }}>
        <Table size="small" aria-label="Things">
          <TableHead>
            <TableRow>
              <TableCell>Kind</TableCell>
              <TableCell>Which</TableCell>
              <TableCell>Fits</TableCell>
              <TableCell>Place</TableCell>
              <TableCell align="right">Count</TableCell>
              <TableCell>Wear, calibration</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          {GROUPS.map(([group, title]) => {
            const items = found.filter((item) => groupOf(item) === group)
            if (items.length === 0) return null
            return (
              <TableBody key={group}>
                <TableRow>
                  <TableCell colSpan={7} component="th" scope="rowgroup" sx={{ fontWeight: 650 }}>
                    {title}
                  </TableCell>
                </TableRow>
                {items.map((item) => (
                  <ItemRow key={item.id} item={item} onPut={onChange ? put : null} onEdit={setEdited} />
                ))}
              </TableBody>
            )
          })}
        </Table>
      </Box>
      {edited && onChange && (
        <ItemDialog
          item={edited}
          onClose={() => setEdited(null)}
          onPut={(item) => {
            put(item)
            setEdited(null)
          }}
          onRemove={() => {
            onChange({ ...kit, items: kit.items.filter(({ id }) => id !== edited.id) })
            setEdited(null)
          }}
        />
      )}
    </Section>
  )
}

function newItem(): KitItem {
  return {
    id: uuidv7(),
    kind: 'closure',
    name: '',
    count: 1,
    place: '',
    fits: [],
    fibers: null,
    wear: null,
    calibratedUntil: null,
  }
}

function ItemRow({
  item,
  onPut,
  onEdit,
}: {
  item: KitItem
  onPut: ((item: KitItem) => void) | null
  onEdit(item: KitItem): void
}) {
  const known = KIT_KINDS.find(({ kind }) => kind === item.kind)
  const name = `${kindName(item.kind)} ${item.name}`
  const step = known?.unit === 'm' ? 10 : 1
  return (
    <TableRow>
      <TableCell>{kindName(item.kind)}</TableCell>
      <TableCell>
        {item.name}
        {item.fibers !== null && `, ${item.fibers} fibers`}
      </TableCell>
      <TableCell>{item.fits.join(', ')}</TableCell>
      <TableCell>{item.place}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        {onPut && (
          <IconButton
            aria-label={`Fewer: ${name}`}
            disabled={item.count <= 0}
            onClick={() => onPut({ ...item, count: Math.max(0, item.count - step) })}
          >
            <RemoveIcon />
          </IconButton>
        )}
        {item.count.toLocaleString('en-GB')}
        {known?.unit === 'm' && ' m'}
        {onPut && (
          <IconButton aria-label={`More: ${name}`} onClick={() => onPut({ ...item, count: item.count + step })}>
            <AddIcon />
          </IconButton>
        )}
      </TableCell>
      <TableCell>
        {[
          item.wear &&
            `${item.wear.used.toLocaleString('en-GB')} of ${item.wear.due.toLocaleString('en-GB')} ${item.wear.unit}`,
          item.calibratedUntil && `calibrated until ${item.calibratedUntil}`,
        ]
          .filter(Boolean)
          .join('; ')}
      </TableCell>
      <TableCell>
        {onPut && (
          <Button size="small" onClick={() => onEdit(item)} aria-label={`Edit ${name}`}>
            Edit
          </Button>
        )}
      </TableCell>
    </TableRow>
  )
}
