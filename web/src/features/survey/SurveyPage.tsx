import type { Account, CableSurveyRecord } from '@cold-thread/contract'
import { ranges } from '@cold-thread/core/fiber'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import TextLink from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import { Link as RouterLink } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery, useSurveyQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { metres } from '@cold-thread/core/units'
import { intervalInWords } from '../../thread/axisTicks.ts'
import { Figure } from '../../ui/Figure.tsx'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { standingEvidence } from '../locate/useLocated.ts'
import { SurveyChart } from './SurveyChart.tsx'
import { BeginAnew } from './BeginAnew.tsx'
import { CableShell, type CableProps } from './CableShell.tsx'
import { SurveyImport } from './SurveyImport.tsx'
import { fibersInWords, harmInWords, placeInWords, type SurveyedPlace } from './surveyWords.ts'

/** All fibers of a cable together: which are hit, where, and what the pattern of tubes says. */
export function SurveyPage({ account }: { account: Account }) {
  return (
    <CableShell account={account} title="all fibers together" back="Locate">
      {(props) => <Survey {...props} />}
    </CableShell>
  )
}

function Survey(props: CableProps) {
  const { account, callout, plant, link } = props
  const { data: survey, error, isFetching } = useSurveyQuery(callout.id)
  const working = canWork(account) && callout.state !== 'closed'
  return (
    <>
      <Problem error={error} />
      {isFetching && !survey && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 2 }}>
          <CircularProgress size={24} aria-label="Computing" /> Putting the fibers together…
        </Box>
      )}
      {survey && (
        <>
          <Findings {...props} survey={survey} working={working} />
          <Section title="Fiber by fiber">
            <SurveyChart survey={survey} plant={plant} linkId={link.id} />
          </Section>
        </>
      )}
      {working && <SurveyImport {...props} role="present" begun={survey !== null && survey !== undefined} />}
      {working && survey && <BeginAnew callout={callout} role="present" count={survey.fibers.length} />}
    </>
  )
}

type FindingsProps = CableProps & { survey: CableSurveyRecord; working: boolean }

function Findings(props: FindingsProps) {
  const { survey } = props
  const sound = survey.fibers.filter((fiber) => fiber.state === 'sound').length
  return (
    <Section title={survey.places.length === 0 ? 'No damage seen' : 'What is hit'}>
      {survey.places.map((place) => (
        <Finding key={place.fibers.join(' ') + place.ground} {...props} place={place} />
      ))}
      <Typography>
        {sound} of {survey.fibers.length} fibers read are sound.
        {survey.missing.length > 0 &&
          ` No trace of ${survey.missing.length} ${survey.missing.length === 1 ? 'fiber' : 'fibers'}: ${ranges(survey.missing)}.`}
      </Typography>
    </Section>
  )
}

function Finding({ callout, survey, plant, place, working }: FindingsProps & { place: SurveyedPlace }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Typography component="p" sx={{ fontSize: { xs: '1.4rem', sm: '1.7rem' }, fontWeight: 700, lineHeight: 1.2 }}>
        {sentence(fibersInWords(survey, place))}, {placeInWords(plant, place)}
      </Typography>
      <Typography sx={{ fontSize: '1.1rem', mt: 0.5 }}>
        {sentence(harmInWords(survey, place))}; {place.meaning}.
      </Typography>
      <Typography sx={{ mt: 0.5 }}>First: {place.first}.</Typography>
      <Typography sx={{ mt: 0.5, color: 'text.secondary' }}>
        Chainage {metres(place.chainage)}, {intervalInWords(place.interval95)}
        {place.pattern === 'pulled' && `; breaks spread over ${metres(place.extent[1] - place.extent[0])} of ground`}
        {place.loss !== null && (
          <>
            ; median added loss{' '}
            <Figure
              value={place.loss}
              unit="dB"
              why="Median over the fibers hit at this place that still carry light."
            />
          </>
        )}
        .{' '}
        {place.withoutBaseline > 0 &&
          `${place.withoutBaseline} of these fibers ${place.withoutBaseline === 1 ? 'has' : 'have'} no baseline: a large splice of old would look the same. `}
        Before digging, locate this cable and every other buried service on site.
      </Typography>
      {working && <UseAsEvidence calloutId={callout.id} place={place} />}
    </Box>
  )
}

/** Hands the place that neighbouring fibers show to the link's own fault. */
function UseAsEvidence({ calloutId, place }: { calloutId: string; place: SurveyedPlace }) {
  const { data: log } = useObservationsQuery(calloutId)
  const [add, { error, isLoading }] = useAddObservationMutation()
  const { chainage, interval95, fibers } = place
  const used = standingEvidence(log).some(
    ({ entry: { evidence } }) =>
      evidence.kind === 'neighbours' && evidence.traced && Math.abs(evidence.traced.chainage - chainage) < 1,
  )
  if (used)
    return (
      <Typography sx={{ mt: 0.5 }}>
        Used as evidence for this link’s fault.{' '}
        <TextLink component={RouterLink} to={`/callouts/${calloutId}/locate`}>
          See Locate
        </TextLink>
      </Typography>
    )
  const traced = { fibers: fibers.length, chainage, within: (interval95[1] - interval95[0]) / 2 }
  return (
    <>
      <Button
        variant="outlined"
        disabled={isLoading}
        sx={{ mt: 1, minHeight: 44 }}
        onClick={() =>
          void add({
            calloutId,
            id: uuidv7(),
            observation: {
              entry: { kind: 'evidence', evidence: { kind: 'neighbours', affected: true, traced } },
              observedAt: new Date().toISOString(),
              supersedes: null,
            },
          })
        }
      >
        Use for this link’s fault
      </Button>
      <Problem error={error} />
    </>
  )
}

function sentence(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1)
}
