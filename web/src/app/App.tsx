import CssBaseline from '@mui/material/CssBaseline'
import CircularProgress from '@mui/material/CircularProgress'
import Box from '@mui/material/Box'
import { ThemeProvider } from '@mui/material/styles'
import { useMemo } from 'react'
import { Navigate, Route, Routes, useLocation } from 'react-router'
import { useSessionQuery } from '../api/api.ts'
import { BoardPage } from '../features/callouts/BoardPage.tsx'
import { useSending } from '../field/useField.ts'
import { useMineAlong } from '../field/useMineAlong.ts'
import { Problem } from '../ui/Problem.tsx'
import { page } from './page.ts'
import { CalloutPage } from './pageCode.ts'
import { PageBoundary } from './PageBoundary.tsx'
import { Shell } from './Shell.tsx'
import { useAppSelector } from './store.ts'
import { makeTheme } from './theme.ts'

// The first screen brings its own code alone; each page brings its own when it is opened, from this device once it is kept.
const AccountsPage = page(async () => (await import('../features/accounts/AccountsPage.tsx')).AccountsPage)
const FiberPage = page(async () => (await import('../features/fibers/FiberPage.tsx')).FiberPage)
const KitPage = page(async () => (await import('../features/kit/KitPage.tsx')).KitPage)
const LengthsPage = page(async () => (await import('../features/lengths/LengthsPage.tsx')).LengthsPage)
const OpenBookPage = page(async () => (await import('../features/openBook/OpenBookPage.tsx')).OpenBookPage)
const OutboxPage = page(async () => (await import('../field/OutboxPage.tsx')).OutboxPage)
const PlacePage = page(async () => (await import('../features/place/PlacePage.tsx')).PlacePage)
const PlantPage = page(async () => (await import('../features/plant/PlantPage.tsx')).PlantPage)
const SetUpPage = page(async () => (await import('../features/signIn/SetUpPage.tsx')).SetUpPage)
const SignInPage = page(async () => (await import('../features/signIn/SignInPage.tsx')).SignInPage)
const CableProofPage = page(async () => (await import('../features/cableProof/CableProofPage.tsx')).CableProofPage)
const SurveyPage = page(async () => (await import('../features/survey/SurveyPage.tsx')).SurveyPage)
const TagsPage = page(async () => (await import('../features/place/TagsPage.tsx')).TagsPage)

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
  const [, name = ''] = useLocation().pathname.split('/')
  useSending(session?.account ?? null)
  useMineAlong(session?.account ?? null)
  if (error && !session)
    return (
      <Box sx={{ maxWidth: 520, mx: 'auto', mt: 8, px: 2 }}>
        <Problem error={error} />
      </Box>
    )
  if (!session) return <Loading />
  if (!session.setUp)
    return (
      <PageBoundary page={name} loading={<Loading />}>
        <SetUpPage />
      </PageBoundary>
    )
  if (!session.account)
    return (
      <PageBoundary page={name} loading={<Loading />}>
        <SignInPage />
      </PageBoundary>
    )
  return (
    <Shell account={session.account}>
      <PageBoundary page={name} loading={<Loading />}>
        <Routes>
          <Route path="/" element={<BoardPage account={session.account} />} />
          <Route path="/callouts/:id/fibers" element={<CableProofPage account={session.account} />} />
          <Route path="/callouts/:id/survey" element={<SurveyPage account={session.account} />} />
          <Route path="/callouts/:id/:stage?" element={<CalloutPage account={session.account} />} />
          <Route path="/at/:node" element={<PlacePage account={session.account} />} />
          <Route path="/tags" element={<TagsPage />} />
          <Route path="/plant" element={<PlantPage account={session.account} />} />
          <Route path="/outbox" element={<OutboxPage />} />
          <Route path="/fibers" element={<FiberPage />} />
          <Route path="/lengths" element={<LengthsPage />} />
          <Route path="/open-book" element={<OpenBookPage account={session.account} />} />
          <Route path="/kit" element={<KitPage account={session.account} />} />
          <Route path="/accounts" element={<AccountsPage account={session.account} />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </PageBoundary>
    </Shell>
  )
}

function Loading() {
  return (
    <Box sx={{ display: 'grid', placeItems: 'center', height: '60vh' }}>
      <CircularProgress aria-label="Loading" />
    </Box>
  )
}
