import type { Account } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Typography from '@mui/material/Typography'
import type { ReactNode } from 'react'
import { NavLink } from 'react-router'
import { DarkThemeIcon, LightThemeIcon } from '../ui/icons.tsx'
import { OutboxLine } from '../field/OutboxLine.tsx'
import { ScanButton } from '../field/ScanButton.tsx'
import { SignOutButton } from '../field/SignOutButton.tsx'
import { Keys } from './Keys.tsx'
import { themeChosen } from './settings.ts'
import { useAppDispatch, useAppSelector } from './store.ts'

const PAGES = [
  ['/', 'Callouts'],
  ['/plant', 'Plant'],
  ['/kit', 'Kit'],
] as const

export function Shell({ account, children }: { account: Account; children: ReactNode }) {
  const mode = useAppSelector((state) => state.settings.theme)
  const dispatch = useAppDispatch()
  const pages = account.role === 'lead' ? [...PAGES, ['/accounts', 'Accounts'] as const] : PAGES
  return (
    <Box sx={{ minHeight: '100vh' }}>
      <Keys />
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: { xs: 0, sm: 2 },
          px: { xs: 0.5, sm: 2 },
          py: 0.5,
          borderBottom: 1,
          borderColor: 'divider',
          bgcolor: 'background.paper',
          flexWrap: 'wrap',
        }}
      >
        <Box
          component="img"
          src="/icon.svg"
          alt=""
          sx={{ width: 30, height: 30, display: { xs: 'none', sm: 'block' } }}
        />
        <Typography
          component="span"
          sx={{ fontWeight: 650, fontSize: '1.05rem', display: { xs: 'none', sm: 'inline' } }}
        >
          Cold Thread
        </Typography>
        <Box component="nav" aria-label="Pages" sx={{ display: 'flex', flex: 1 }}>
          {pages.map(([path, name]) => (
            <Button
              key={path}
              component={NavLink}
              to={path}
              end={path === '/'}
              sx={{
                color: 'text.primary',
                minWidth: 0,
                px: { xs: 1, sm: 1.5 },
                '&.active': { textDecoration: 'underline', textUnderlineOffset: 6, textDecorationThickness: 2 },
              }}
            >
              {name}
            </Button>
          ))}
        </Box>
        <Typography
          component="span"
          sx={{ color: 'text.secondary', fontSize: 14, display: { xs: 'none', sm: 'inline' } }}
        >
          {account.displayName}, {account.role}
        </Typography>
        <IconButton
          title={mode === 'dark' ? 'Light theme' : 'Dark theme'}
          aria-label={mode === 'dark' ? 'Light theme' : 'Dark theme'}
          onClick={() => dispatch(themeChosen(mode === 'dark' ? 'light' : 'dark'))}
        >
          {mode === 'dark' ? <LightThemeIcon /> : <DarkThemeIcon />}
        </IconButton>
        <ScanButton />
        <SignOutButton />
      </Box>
      <OutboxLine />
      <Box component="main" sx={{ maxWidth: 1400, mx: 'auto', px: { xs: 1, sm: 2 }, py: 2 }}>
        {children}
      </Box>
    </Box>
  )
}
