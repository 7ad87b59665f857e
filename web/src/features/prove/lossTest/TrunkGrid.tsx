import type { ChannelWord, TrunkChannel, TrunkJudgement } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { Judgement, type Tone } from '../../../ui/Judgement.tsx'

const TONES: Record<ChannelWord, Tone> = {
  within: 'good',
  close: 'close',
  over: 'bad',
  dark: 'bad',
  reflects: 'bad',
  elsewhere: 'bad',
  suspect: 'close',
  'not read': 'unknown',
}

/** Every channel in its place: loss as a bar against what is allowed, return loss (RL) under it, the verdict in words. */
export function TrunkGrid({ channels, judged }: { channels: readonly TrunkChannel[]; judged: TrunkJudgement }) {
  const { inks } = useTheme()
  const most = Math.max(judged.allowed * 1.2, ...channels.map(({ loss }) => loss ?? 0))
  const y = scaleLinear([0, most], [0, 56])
  const told = judged.channels.filter(({ word }) => word !== 'within' && word !== 'not read')
  return (
    <>
      <Box
        component="ol"
        aria-label="Channels"
        sx={{
          listStyle: 'none',
          p: 0,
          m: 0,
          my: 1,
          display: 'grid',
          gap: 1,
          gridTemplateColumns: 'repeat(auto-fill, minmax(92px, 1fr))',
        }}
      >
        {judged.channels.map(({ channel, word, reason }) => {
          const { loss, returnLoss, at } = channels[channel - 1]!
          return (
            <Box
              component="li"
              key={channel}
              title={reason}
              sx={{ border: 1, borderColor: 'divider', borderRadius: 1, p: 1 }}
            >
              <Typography sx={{ fontWeight: 650 }}>
                {channel}
                {at !== null && at !== 0 && (
                  <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}>
                    {' '}
                    to {at}
                  </Box>
                )}
              </Typography>
              <svg width={76} height={60} aria-hidden="true" style={{ display: 'block' }}>
                <rect
                  x={14}
                  width={30}
                  y={58 - y(Math.max(0, loss ?? 0))}
                  height={y(Math.max(0, loss ?? 0))}
                  fill={inks.present}
                />
                <line
                  x1={6}
                  x2={70}
                  y1={58 - y(judged.allowed)}
                  y2={58 - y(judged.allowed)}
                  stroke={inks.baseline}
                  strokeWidth={2}
                  strokeDasharray="5 3"
                />
                <line x1={6} x2={70} y1={58} y2={58} stroke={inks.label} />
              </svg>
              <Typography sx={{ fontSize: 14, fontVariantNumeric: 'tabular-nums' }}>
                {loss === null ? 'no loss' : `${loss.toFixed(2)} dB`}
              </Typography>
              <Typography sx={{ fontSize: 14, fontVariantNumeric: 'tabular-nums', color: 'text.secondary' }}>
                {returnLoss === null ? 'RL –' : `RL ${returnLoss.toFixed(0)} dB`}
              </Typography>
              <Box sx={{ fontSize: 13, whiteSpace: 'nowrap' }}>
                <Judgement tone={TONES[word]} word={word} />
              </Box>
            </Box>
          )
        })}
      </Box>
      {told.map(({ channel, word, reason }) => (
        <Typography key={channel} sx={{ fontSize: 14 }}>
          Channel {channel}, {word}: {reason}
        </Typography>
      ))}
    </>
  )
}
