import Box from '@mui/material/Box'
import type { Theme } from '@mui/material/styles'

/** What a judgement can say; each has a shape, a word and a colour. */
export type Tone = 'good' | 'close' | 'bad' | 'unknown'

const COLOR: Record<Tone, (theme: Theme) => string> = {
  good: (theme) => theme.palette.success.main,
  close: (theme) => theme.palette.warning.main,
  bad: (theme) => theme.palette.error.main,
  unknown: (theme) => theme.palette.text.secondary,
}

const SHAPE: Record<Tone, React.ReactNode> = {
  good: <circle cx={8} cy={8} r={7} />,
  close: <path d="M8 1 L15 14 H1 Z" />,
  bad: <path d="M1 1 H15 V15 H1 Z" />,
  unknown: <circle cx={8} cy={8} r={6} fill="none" strokeWidth={2} stroke="currentColor" strokeDasharray="3 2.4" />,
}

export function Judgement({ tone, word, large = false }: { tone: Tone; word: string; large?: boolean }) {
  const size = large ? 30 : 14
  return (
    <Box
      component="span"
      sx={{
        display: 'inline-flex',
        // The word stands on the line of the text around it.
        alignItems: 'baseline',
        gap: large ? 1.5 : 0.75,
        color: COLOR[tone],
        fontWeight: 650,
        fontSize: large ? '1.7rem' : 'inherit',
      }}
    >
      <svg
        width={size}
        height={size}
        viewBox="0 0 16 16"
        fill="currentColor"
        aria-hidden
        style={{ flex: 'none', alignSelf: 'center' }}
      >
        {SHAPE[tone]}
      </svg>
      {word}
    </Box>
  )
}
