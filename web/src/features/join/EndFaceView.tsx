import type { EndFaceEntry } from '@cold-thread/contract'
import { endFaceRule, type ConnectorClass, type FeatureMark } from '@cold-thread/core/endFace'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddAttachmentMutation } from '../../api/api.ts'
import { useEnter } from '../../api/useEnter.ts'
import { Judgement } from '../../ui/Judgement.tsx'
import { Problem } from '../../ui/Problem.tsx'
import type { JudgedPicture } from '../../worker/endFaceJob.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { drawMarked } from './drawEndFace.ts'

const WORDS: Record<FeatureMark, string> = { over: 'over the limit', close: 'close to a limit', fine: 'allowed' }
/** So many features are listed; the picture shows them all. */
const LISTED = 12

/** One picture just looked at: marked, graded with its reasons, and kept; or why it can't be judged. */
export function EndFaceView({
  callout,
  judged,
  simulated,
  node,
  side,
  connector,
  onKept,
}: Pick<StageProps, 'callout'> & {
  judged: JudgedPicture
  simulated: boolean
  node: string
  side: EndFaceEntry['side']
  connector: ConnectorClass
  onKept(): void
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [word, setWord] = useState<'pass' | 'fail' | null>(null)
  const [reason, setReason] = useState('')
  const { enter, error, busy } = useEnter(callout.id)
  const [addPicture, { error: refused, isLoading }] = useAddAttachmentMutation()
  const view = 'view' in judged ? judged.view : null
  useEffect(() => {
    if (canvas.current && view) drawMarked(canvas.current, view, connector)
  }, [view, connector])
  if (!view)
    return (
      <Alert severity="error" variant="outlined" sx={{ mb: 1.5 }}>
        {'problem' in judged && judged.problem}
      </Alert>
    )
  const { grade, fiber, features } = view
  const overrules = word !== null && word !== grade.verdict
  const keep = async () => {
    const blob = await new Promise<Blob | null>((done) => canvas.current!.toBlob(done, 'image/png'))
    let picture: string | null = null
    if (blob) {
      picture = uuidv7()
      const file = new File([blob], `end-face-${node}-${side}.png`, { type: 'image/png' })
      const caption = `End face at ${node}, ${side}: ${grade.verdict}`
      const kept = await addPicture({ calloutId: callout.id, id: picture, caption, file })
      if (kept.error) return
    }
    const taken = await enter({
      kind: 'end-face',
      node,
      side,
      connector,
      verdict: grade.verdict,
      reasons: grade.reasons.slice(0, 60),
      edition: endFaceRule(connector)?.edition ?? null,
      scale: fiber.scale,
      blur: fiber.blur.width,
      features: features.slice(0, 500).map(({ kind, size, x, y }, i) => ({
        kind,
        size,
        x,
        y,
        mark: grade.marks[i] ?? null,
      })),
      picture,
      overruled: overrules ? { verdict: word, reason: reason.trim() } : null,
      simulated,
    })
    if (taken !== null) onKept()
  }
  const listed = features
    .map((feature, i) => ({ feature, mark: grade.marks[i] ?? ('fine' as const), number: i + 1 }))
    .sort((a, b) => rank(a.mark) - rank(b.mark))
  return (
    <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', mb: 2 }}>
      <Box sx={{ flex: '1 1 320px', maxWidth: 560 }}>
        <canvas
          ref={canvas}
          role="img"
          aria-label={`End face: ${grade.verdict}. ${features.length} features`}
          style={{ width: '100%', borderRadius: 4 }}
        />
        <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
          {simulated && 'Simulated microscope. '}
          {fiber.scale.toFixed(2)} µm a pixel by the cladding’s 125 µm; points are blurred to{' '}
          {fiber.blur.width.toFixed(1)} µm.
        </Typography>
      </Box>
      <Box sx={{ flex: '1 1 300px' }}>
        <Typography role="status" sx={{ fontSize: 22, mb: 0.5 }}>
          <Judgement
            tone={
              grade.verdict === 'pass'
                ? 'good'
                : grade.verdict === 'fail'
                  ? 'bad'
                  : grade.verdict === 'close'
                    ? 'close'
                    : 'unknown'
            }
            word={grade.verdict}
          />
        </Typography>
        <Box component="ul" sx={{ pl: 2.5, mt: 0, mb: 1 }}>
          {[...new Set(grade.reasons)].slice(0, 6).map((one) => (
            <li key={one}>{one}</li>
          ))}
          {grade.verdict === 'pass' && <li>every zone is within its limits</li>}
        </Box>
        {listed.length > 0 && (
          <Box component="ol" aria-label="Features" sx={{ listStyle: 'none', p: 0, m: 0, mb: 1, fontSize: 15 }}>
            {listed.slice(0, LISTED).map(({ feature: { kind, size, inner }, mark, number }) => (
              <li key={number}>
                <strong>{number}</strong> {kind} {sizeInWords(size, fiber.scale)}, {inner.toFixed(0)} µm from the center
                {grade.marks.length > 0 && `: ${WORDS[mark]}`}
              </li>
            ))}
            {listed.length > LISTED && <li>and {listed.length - LISTED} more in the picture</li>}
          </Box>
        )}
        <ToggleButtonGroup
          exclusive
          value={word}
          onChange={(_event, value: 'pass' | 'fail' | null) => setWord(value)}
          aria-label="Your own word"
          sx={{ mb: 1 }}
        >
          {(['pass', 'fail'] as const).map((one) => (
            <ToggleButton key={one} value={one} disabled={one === grade.verdict} sx={{ minHeight: 48, px: 2 }}>
              I say {one}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {overrules && (
          <TextField
            label="Why, against the table"
            value={reason}
            onChange={({ target }) => setReason(target.value)}
            slotProps={{ htmlInput: { maxLength: 500 } }}
            fullWidth
            sx={{ mb: 1 }}
          />
        )}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button
            variant="contained"
            size="large"
            disabled={busy || isLoading || (overrules && reason.trim().length < 3)}
            onClick={() => void keep()}
            sx={{ minHeight: 56 }}
          >
            Keep this look
          </Button>
          <Button onClick={onKept}>Drop it</Button>
        </Box>
        <Problem error={error ?? refused} />
      </Box>
    </Box>
  )
}

function rank(mark: FeatureMark): number {
  return mark === 'over' ? 0 : mark === 'close' ? 1 : 2
}

/** A width in µm; what is narrower than a pixel is not told finer than that. @param scale µm a pixel */
function sizeInWords(size: number, scale: number): string {
  return size < scale ? `under ${scale.toFixed(1)} µm` : `of ${size.toFixed(1)} µm`
}
