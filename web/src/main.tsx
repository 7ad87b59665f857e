import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { BrowserRouter } from 'react-router'
import { App } from './app/App.tsx'
import { readAhead } from './app/pageCode.ts'
import { store } from './app/store.ts'
import { registerServiceWorker } from './field/serviceWorker.ts'

const ready = readAhead(location.pathname, store.dispatch)
registerServiceWorker(store.dispatch)
await ready

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </Provider>
  </StrictMode>,
)
