import type { RecordFindings } from '@cold-thread/contract'
import { constructionWord } from '@cold-thread/core/open'
import type { Cable, CableCorrection, PlantBundle } from '@cold-thread/core/plant'
import { groupWord } from '@cold-thread/core/fiber'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useCorrectionsQuery, useRecordFindingsQuery } from '../../api/api.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { CorrectCable } from './CorrectCable.tsx'

type Finding = RecordFindings[number]

/** What is being put right: a cable, with what was found of it; whether the record may change at all. */
interface Correcting {
  cable: Cable
  changes: CableCorrection
  reason: string
  stands: boolean
}

/** Cables by the record; what run sheets found otherwise, for whoever keeps the record to put right or let stand. */
export function CableRecords({ plant, version, keeper }: { plant: PlantBundle; version: number; keeper: boolean }) {
  const { data: findings, error } = useRecordFindingsQuery()
  const { data: corrections } = useCorrectionsQuery()
  const [correcting, setCorrecting] = useState<Correcting | null>(null)
  const correct = (cable: Cable, finding: Finding | null, stands = false) =>
    setCorrecting({ cable, changes: finding?.changes ?? {}, reason: finding?.reason ?? '', stands })
  return (
    <Section title="Cables">
      <Problem error={error} />
      {plant.cables.map((cable) => (
        <Box key={cable.id} sx={{ borderBottom: 1, borderColor: 'divider', py: 1 }}>
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', justifyContent: 'space-between' }}>
            <Typography>
              <strong>{cable.id}</strong>, {cableInWords(cable)}
            </Typography>
            {keeper && (
              <Button aria-label={`Correct the record of ${cable.id}`} onClick={() => correct(cable, null)}>
                Correct
              </Button>
            )}
          </Box>
          {findings
            ?.filter((finding) => finding.cable === cable.id)
            .map((finding) => (
              <Box key={`${finding.calloutId} ${finding.at}`} sx={{ my: 0.5 }}>
                <Judgement tone="close" word="found otherwise" />: {finding.words.join('; ')}
                {finding.reason && `. ${finding.reason}`}
                <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                  {clock(finding.at)}, {finding.by}, {finding.title}
                </Typography>
                {keeper && (
                  <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mt: 0.5 }}>
                    <Button variant="contained" onClick={() => correct(cable, finding)}>
                      Put the record right
                    </Button>
                    <Button variant="outlined" onClick={() => correct(cable, finding, true)}>
                      The record stands
                    </Button>
                  </Box>
                )}
              </Box>
            ))}
          {corrections
            ?.filter((one) => one.cable === cable.id)
            .slice(0, 3)
            .map(({ id, at, by, words, reason }) => (
              <Typography key={id} sx={{ fontSize: 14, color: 'text.secondary' }}>
                {clock(at)}, {by}: {words.length > 0 ? words.join('; ') : 'looked at, the record stands'}. {reason}
              </Typography>
            ))}
        </Box>
      ))}
      {correcting && <CorrectCable {...correcting} version={version} onClose={() => setCorrecting(null)} />}
    </Section>
  )
}

function cableInWords(cable: Cable): string {
  const { construction, fiberCount, tubeSize, outerDiameter, armored, doubleJacket } = cable
  return [
    constructionWord(construction),
    `${fiberCount} fibers, ${tubeSize} to a ${groupWord(construction)}`,
    outerDiameter === undefined ? 'diameter not on record' : `${Number((outerDiameter * 1000).toFixed(2))} mm`,
    ...(armored ? ['armored'] : []),
    ...(doubleJacket ? ['second jacket'] : []),
  ].join(', ')
}
