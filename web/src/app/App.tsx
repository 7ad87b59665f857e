import CssBaseline from '@mui/material/CssBaseline'
import CircularProgress from '@mui/material/CircularProgress'
import Box from '@mui/material/Box'
import { ThemeProvider } from '@mui/material/styles'
import { lazy, useMemo } from 'react'
import { Navigate, Route, Routes, useLocation } from 'react-router'
import { useSessionQuery } from '../api/api.ts'
import { BoardPage } from '../features/callouts/BoardPage.tsx'
import { useSending } from '../field/useField.ts'
import { useMineAlong } from '../field/useMineAlong.ts'
import { Problem } from '../ui/Problem.tsx'
import { calloutCode } from './pageCode.ts'
import { PageBoundary } from './PageBoundary.tsx'
import { Shell } from './Shell.tsx'
import { useAppSelector } from './store.ts'
import { makeTheme } from './theme.ts'

// The first screen brings its own code alone; each page brings its own when it is opened, from this device once it is kept.
const AccountsPage = lazy(() =>
  import('../features/accounts/AccountsPage.tsx').then(({ AccountsPage }) => ({ default: AccountsPage })),
)
const CalloutPage = lazy(calloutCode)
const KitPage = lazy(() => import('../features/kit/KitPage.tsx').then(({ KitPage }) => ({ default: KitPage })))
const PlacePage = lazy(() =>
  import('../features/place/PlacePage.tsx').then(({ PlacePage }) => ({ default: PlacePage })),
)
const TagsPage = lazy(() => import('../features/place/TagsPage.tsx').then(({ TagsPage }) => ({ default: TagsPage })))
const PlantPage = lazy(() =>
  import('../features/plant/PlantPage.tsx').then(({ PlantPage }) => ({ default: PlantPage })),
)
const SurveyPage = lazy(() =>
  import('../features/survey/SurveyPage.tsx').then(({ SurveyPage }) => ({ default: SurveyPage })),
)
const OutboxPage = lazy(() => import('../field/OutboxPage.tsx').then(({ OutboxPage }) => ({ default: OutboxPage })))
const SignInPage = lazy(() =>
  import('../features/signIn/SignInPage.tsx').then(({ SignInPage }) => ({ default: SignInPage })),
)
const SetUpPage = lazy(() =>
  import('../features/signIn/SetUpPage.tsx').then(({ SetUpPage }) => ({ default: SetUpPage })),
)

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
  const [, page = ''] = useLocation().pathname.split('/')
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
      <PageBoundary page={page} loading={<Loading />}>
        <SetUpPage />
      </PageBoundary>
    )
  if (!session.account)
    return (
      <PageBoundary page={page} loading={<Loading />}>
        <SignInPage />
      </PageBoundary>
    )
  return (
    <Shell account={session.account}>
      <PageBoundary page={page} loading={<Loading />}>
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
