import type { Account, OpenBook } from '@cold-thread/contract'
import { CLOSURE_WORDS, PART_WORDS, PROCEDURES, type ClosureModel, type Procedure } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useOpenBookQuery, useSaveOpenBookMutation } from '../../api/api.ts'
import { canKeepRecords, canWork } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { ClosureModelForm, emptyModel } from './ClosureModelForm.tsx'
import { ProcedureEditor } from './ProcedureEditor.tsx'

/** What the operator keeps for opening: its closures' sheets, and procedures of its own beside those that ship. */
export function OpenBookPage({ account }: { account: Account }) {
  const { data, error } = useOpenBookQuery()
  const [save, { error: refused, isLoading, reset }] = useSaveOpenBookMutation()
  const [model, setModel] = useState<ClosureModel | null>(null)
  const [procedure, setProcedure] = useState<Procedure | null>(null)
  if (!data) return error ? <Problem error={error} /> : <CircularProgress aria-label="Loading" />
  const { book, version, savedAt, savedBy } = data
  const may = canWork(account) || canKeepRecords(account)
  const keep = async (next: OpenBook) => {
    const { error: failed } = await save({ book: next, version })
    if (failed) return
    setModel(null)
    setProcedure(null)
  }
  const others = (name: string) => book.closures.filter(({ model: one }) => one !== name)
  const own = new Map(book.procedures.map((one) => [one.id, one]))
  const all = [...PROCEDURES.filter(({ id }) => !own.has(id)), ...book.procedures]
  if (model)
    return (
      <>
        <Problem error={refused} />
        <ClosureModelForm
          model={model}
          taken={book.closures.map((one) => one.model)}
          busy={isLoading}
          onCancel={() => {
            reset()
            setModel(null)
          }}
          onSave={(next) => void keep({ ...book, closures: [...others(model.model), next] })}
        />
      </>
    )
  if (procedure)
    return (
      <>
        <Problem error={refused} />
        <ProcedureEditor
          procedure={procedure}
          others={all.filter(({ id }) => id !== procedure.id)}
          taken={all.map(({ id }) => id)}
          busy={isLoading}
          onCancel={() => {
            reset()
            setProcedure(null)
          }}
          onSave={(next) =>
            void keep({ ...book, procedures: [...book.procedures.filter(({ id }) => id !== next.id), next] })
          }
        />
      </>
    )
  return (
    <>
      <Typography variant="h1" sx={{ mb: 1 }}>
        Closures’ sheets and procedures
      </Typography>
      <Typography sx={{ mb: 2, color: 'text.secondary' }}>
        {savedAt ? `Version ${version}, ${clock(savedAt)}, ${savedBy}. ` : ''}Sheets that were begun keep the steps they
        began with.
      </Typography>
      <Problem error={refused} />
      <Section
        title="Closures’ sheets"
        action={
          may && (
            <Button variant="outlined" onClick={() => setModel(emptyModel())}>
              Add a closure
            </Button>
          )
        }
      >
        {book.closures.length === 0 && <Typography>No closure’s sheet is on record yet.</Typography>}
        {book.closures.map((one) => (
          <Box
            key={one.model}
            sx={{ display: 'flex', gap: 2, alignItems: 'center', borderBottom: 1, borderColor: 'divider', py: 1 }}
          >
            <Box sx={{ flex: 1 }}>
              <Typography sx={{ fontWeight: 650 }}>{one.model}</Typography>
              <Typography sx={{ fontSize: 15 }}>
                {CLOSURE_WORDS[one.kind]}, {one.ports.length} ports
                {one.trays && `, ${one.trays.count} trays of ${one.trays.splices} splices`}
                {one.lengths['sheath'] && `, ${one.lengths['sheath'].max} m of sheath off`};{' '}
                {one.pressure
                  ? `test at ${one.pressure.test / 1000} kPa for ${one.pressure.minutes} min, ${one.pressure.mayLose / 1000} kPa may be lost`
                  : 'no test pressure, so no pressure test'}
              </Typography>
              <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{one.source}</Typography>
            </Box>
            {may && <Button onClick={() => setModel(one)}>Change</Button>}
          </Box>
        ))}
      </Section>
      <Section
        title="Procedures"
        action={
          may && (
            <Button variant="outlined" onClick={() => setProcedure(emptyProcedure())}>
              Write a procedure
            </Button>
          )
        }
      >
        {all.map((one) => (
          <Box
            key={one.id}
            sx={{ display: 'flex', gap: 2, alignItems: 'center', borderBottom: 1, borderColor: 'divider', py: 1 }}
          >
            <Box sx={{ flex: 1 }}>
              <Typography sx={{ fontWeight: 650 }}>{one.name}</Typography>
              <Typography sx={{ fontSize: 15 }}>
                {PART_WORDS[one.part]}, {one.steps.length === 1 ? '1 step' : `${one.steps.length} steps`}, version{' '}
                {one.version}; {own.has(one.id) ? 'the operator’s own' : 'as shipped'}
              </Typography>
              <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>{one.source}</Typography>
            </Box>
            {may && (
              <Button
                onClick={() =>
                  setProcedure(
                    own.has(one.id)
                      ? { ...one, version: one.version + 1 }
                      : {
                          ...one,
                          version: one.version + 1,
                          source: `changed by the operator; ${one.source}`.slice(0, 200),
                        },
                  )
                }
              >
                {own.has(one.id) ? 'Change' : 'Copy and change'}
              </Button>
            )}
            {may && own.has(one.id) && (
              <Button
                disabled={isLoading}
                onClick={() => void keep({ ...book, procedures: book.procedures.filter(({ id }) => id !== one.id) })}
              >
                {PROCEDURES.some(({ id }) => id === one.id) ? 'Back to the shipped one' : 'Take out'}
              </Button>
            )}
          </Box>
        ))}
      </Section>
    </>
  )
}

function emptyProcedure(): Procedure {
  return {
    id: '',
    version: 1,
    name: '',
    part: 'prepare',
    rank: 1,
    for: { work: ['bring-in', 'prepare'], entry: ['end'] },
    source: '',
    steps: [{ id: 'step-1', do: '' }],
  }
}
