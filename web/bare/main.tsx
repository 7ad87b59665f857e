// The yardstick of the first screen: a page of the same stack that does nothing but ask for a name.
import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import Button from '@mui/material/Button'
import CssBaseline from '@mui/material/CssBaseline'
import Paper from '@mui/material/Paper'
import { createTheme, ThemeProvider } from '@mui/material/styles'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { configureStore } from '@reduxjs/toolkit'
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react'
import { scaleLinear } from 'd3'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { BrowserRouter, Route, Routes } from 'react-router'
import { z } from 'zod'

const answer = z.object({ name: z.string().min(1) })
const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  endpoints: (build) => ({ name: build.query<z.infer<typeof answer>, void>({ query: () => 'name' }) }),
})
const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer },
  middleware: (defaults) => defaults().concat(api.middleware),
})
const theme = createTheme({ typography: { fontFamily: '"Atkinson Hyperlegible Next Variable", sans-serif' } })

function Page() {
  const { data } = api.useNameQuery()
  return (
    <Paper sx={{ p: 2, width: scaleLinear([0, 1], [0, 400])(1) }}>
      <Typography variant="h1">{answer.safeParse(data).success ? data?.name : 'Who?'}</Typography>
      <TextField label="Name" />
      <Button variant="contained">Go</Button>
    </Paper>
  )
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <BrowserRouter>
          <Routes>
            <Route path="*" element={<Page />} />
          </Routes>
        </BrowserRouter>
      </ThemeProvider>
    </Provider>
  </StrictMode>,
)
