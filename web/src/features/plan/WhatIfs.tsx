import type { Scenario } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'
import type { WhatIf } from '../../worker/planView.ts'
import { usePlanner, useProgress, type Progress } from '../../worker/usePlanner.ts'
import { minutesInWords } from './planWords.ts'
import { keyOf, proposeRequest, type PlanInput } from './usePlan.ts'

/** Runs for a comparison: fewer than for the plan itself. */
const RUNS = 300

function Comparing({ progress }: { progress: Progress }) {
  return <>Comparing, {Math.round(100 * useProgress(progress))} %</>
}

/** The same repair with other people and tools, side by side. */
export function WhatIfs({
  input,
  optionId,
  onTake,
}: {
  input: PlanInput
  optionId: string
  onTake(scenario: Scenario): void
}) {
  const [asked, setAsked] = useState<string | null>(null)
  const { scenario } = input.draft
  const cases = variantsOf(scenario)
  const key = JSON.stringify([optionId, keyOf(input)])
  const computed = usePlanner<WhatIf[]>(asked === key ? key : null, (planner, onProgress) =>
    planner.compare(
      { request: proposeRequest(input), optionId, scenarios: cases.map((one) => one.scenario), runs: RUNS },
      onProgress,
    ),
  )
  const rows = asked === key && computed.status === 'ready' ? computed.value : null
  const base = rows?.[0]
  return (
    <Section
      title="What if"
      action={
        !rows && (
          <Button
            variant="outlined"
            onClick={() => setAsked(key)}
            disabled={asked === key && computed.status === 'working'}
          >
            {asked === key && computed.status === 'working' ? (
              <Comparing progress={computed.progress} />
            ) : (
              'Compare other crews and tools'
            )}
          </Button>
        )
      }
    >
      {!rows && (
        <Typography>
          The same repair with ribbons, a second splicer, a second crew, hauling from both ends: what each would gain.
        </Typography>
      )}
      {rows && (
        <Box sx={{ overflowX: 'auto' }}>
          <Table size="small" aria-label="What if">
            <TableHead>
              <TableRow>
                <TableCell>With</TableCell>
                <TableCell align="right">First circuit</TableCell>
                <TableCell align="right">Finished, 50 %</TableCell>
                <TableCell align="right">Finished, 90 %</TableCell>
                <TableCell align="right">Gain</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {cases.map(({ words, scenario: other }, k) => {
                const row = rows[k]!
                return (
                  <TableRow key={words}>
                    <TableCell>{words}</TableCell>
                    {row.figures ? (
                      <>
                        <TableCell align="right">
                          {row.figures.first === null ? 'none' : minutesInWords(row.figures.first)}
                        </TableCell>
                        <TableCell align="right">{minutesInWords(row.figures.p50)}</TableCell>
                        <TableCell align="right">{minutesInWords(row.figures.p90)}</TableCell>
                        <TableCell align="right">
                          {k > 0 && base?.figures ? gain(base.figures.p50 - row.figures.p50) : ''}
                        </TableCell>
                      </>
                    ) : (
                      <TableCell colSpan={4}>{row.problem}</TableCell>
                    )}
                    <TableCell>
                      {k > 0 && row.figures && (
                        <Button size="small" onClick={() => onTake(other)}>
                          Plan with it
                        </Button>
                      )}
                    </TableCell>
                  </TableRow>
                )
              })}
            </TableBody>
          </Table>
        </Box>
      )}
    </Section>
  )
}

function gain(minutes: number): string {
  if (Math.abs(minutes) < 1) return 'nothing'
  return minutes > 0 ? `${minutesInWords(minutes)} sooner` : `${minutesInWords(-minutes)} later`
}

function variantsOf(scenario: Scenario): { words: string; scenario: Scenario }[] {
  const now = [
    `${scenario.crews} ${scenario.crews === 1 ? 'crew' : 'crews'}`,
    `${scenario.splicers} ${scenario.splicers === 1 ? 'splicer' : 'splicers'}`,
    scenario.ribbon ? 'ribbons' : 'single fibers',
  ].join(', ')
  return [
    { words: `as planned: ${now}`, scenario },
    {
      words: scenario.ribbon ? 'fibers one by one' : 'ribbons of 12 at once',
      scenario: { ...scenario, ribbon: !scenario.ribbon },
    },
    { words: 'one splicer more (own or rented)', scenario: { ...scenario, splicers: scenario.splicers + 1 } },
    ...(scenario.crews === 1
      ? [
          {
            words: 'a second crew, with its splicer',
            scenario: { ...scenario, crews: 2 as const, splicers: Math.max(2, scenario.splicers) },
          },
          {
            words: 'a second crew, hauling from both ends',
            scenario: {
              ...scenario,
              crews: 2 as const,
              splicers: Math.max(2, scenario.splicers),
              haulFromBothEnds: true,
            },
          },
        ]
      : [
          { words: 'one crew', scenario: { ...scenario, crews: 1 as const } },
          {
            words: scenario.haulFromBothEnds ? 'hauling from one end' : 'hauling from both ends',
            scenario: { ...scenario, haulFromBothEnds: !scenario.haulFromBothEnds },
          },
        ]),
  ]
}
