import CssBaseline from '@mui/material/CssBaseline'
import CircularProgress from '@mui/material/CircularProgress'
import Box from '@mui/material/Box'
import { ThemeProvider } from '@mui/material/styles'
import { useMemo } from 'react'
import { Navigate, Route, Routes } from 'react-router'
import { useSessionQuery } from '../api/api.ts'
import { AccountsPage } from '../features/accounts/AccountsPage.tsx'
import { CalloutPage } from '../features/callout/CalloutPage.tsx'
import { BoardPage } from '../features/callouts/BoardPage.tsx'
import { KitPage } from '../features/kit/KitPage.tsx'
import { PlacePage } from '../features/place/PlacePage.tsx'
import { TagsPage } from '../features/place/TagsPage.tsx'
import { PlantPage } from '../features/plant/PlantPage.tsx'
import { SetUpPage } from '../features/signIn/SetUpPage.tsx'
import { SignInPage } from '../features/signIn/SignInPage.tsx'
import { SurveyPage } from '../features/survey/SurveyPage.tsx'
import { OutboxPage } from '../field/OutboxPage.tsx'
import { useSending } from '../field/useField.ts'
import { Problem } from '../ui/Problem.tsx'
import { Shell } from './Shell.tsx'
import { useAppSelector } from './store.ts'
import { makeTheme } from './theme.ts'

export function App() {
  const mode = useAppSelector((state) => state.settings.theme)
  const theme = useMemo(() => makeTheme(mode), [mode])
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <Pages />
    </ThemeProvider>
  )
}

function Pages() {
  const { data: session, error } = useSessionQuery(undefined, { pollingInterval: 60_000 })
  useSending(session?.account ?? null)
  if (error && !session)
    return (
      <Box sx={{ maxWidth: 520, mx: 'auto', mt: 8, px: 2 }}>
        <Problem error={error} />
      </Box>
    )
  if (!session)
    return (
      <Box sx={{ display: 'grid', placeItems: 'center', height: '100vh' }}>
        <CircularProgress aria-label="Loading" />
      </Box>
    )
  if (!session.setUp) return <SetUpPage />
  if (!session.account) return <SignInPage />
  return (
    <Shell account={session.account}>
      <Routes>
        <Route path="/" element={<BoardPage account={session.account} />} />
        <Route path="/callouts/:id/survey" element={<SurveyPage account={session.account} />} />
        <Route path="/callouts/:id/:stage?" element={<CalloutPage account={session.account} />} />
        <Route path="/at/:node" element={<PlacePage account={session.account} />} />
        <Route path="/tags" element={<TagsPage />} />
        <Route path="/plant" element={<PlantPage account={session.account} />} />
        <Route path="/outbox" element={<OutboxPage />} />
        <Route path="/kit" element={<KitPage account={session.account} />} />
        <Route path="/accounts" element={<AccountsPage account={session.account} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Shell>
  )
}
