import Box from '@mui/material/Box'
import Paper from '@mui/material/Paper'
import Typography from '@mui/material/Typography'
import type { ReactNode } from 'react'

/** The page before anyone is signed in. */
export function EntryCard({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box sx={{ minHeight: '100vh', display: 'grid', placeItems: 'center', p: 2 }}>
      <Paper sx={{ p: { xs: 3, sm: 5 }, width: '100%', maxWidth: 440, border: 1, borderColor: 'divider' }}>
        <svg viewBox="0 0 360 64" width="100%" height="64" aria-hidden>
          <path
            d="M0 40 C60 40 80 18 140 18 S220 46 262 40 S330 30 360 30"
            fill="none"
            stroke="#5c8fb0"
            strokeWidth="4"
            strokeLinecap="round"
          />
          <circle cx="140" cy="18" r="6" fill="#e0622a" />
        </svg>
        <Typography component="p" sx={{ fontSize: '1.9rem', fontWeight: 700, letterSpacing: '-0.01em' }}>
          Cold Thread
        </Typography>
        <Typography variant="h1" sx={{ fontSize: '1.05rem', fontWeight: 400, color: 'text.secondary', mb: 2 }}>
          {title}
        </Typography>
        {children}
      </Paper>
    </Box>
  )
}
