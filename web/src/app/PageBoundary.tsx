import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import { Suspense, type ReactNode } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import { useLocation } from 'react-router'

/**
 * A page while its code is on its way; where that can't come, or the page fails, it says so and the rest stays.
 * @param page names the page: the one before goes at once, nothing on it can be pressed while this one comes
 */
export function PageBoundary({ page, loading, children }: { page: string; loading: ReactNode; children: ReactNode }) {
  const { pathname } = useLocation()
  return (
    <ErrorBoundary resetKeys={[pathname]} fallbackRender={({ error }) => <Failed error={error} />}>
      <Suspense key={page} fallback={loading}>
        {children}
      </Suspense>
    </ErrorBoundary>
  )
}

function Failed({ error }: { error: unknown }) {
  const message = error instanceof Error ? error.message : String(error)
  const missing = /import|fetch|module/i.test(message)
  return (
    <Alert
      severity="error"
      action={
        <Button color="inherit" onClick={() => location.reload()}>
          Load anew
        </Button>
      }
    >
      {missing
        ? 'This page can’t be read: the network is away, or a newer version of the app is on the server. What you entered is kept.'
        : `This page failed: ${message}. What you entered is kept.`}
    </Alert>
  )
}
