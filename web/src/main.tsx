import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { BrowserRouter } from 'react-router'
import { App } from './app/App.tsx'
import { readAhead } from './app/pageCode.ts'
import { store } from './app/store.ts'
import { registerServiceWorker } from './field/serviceWorker.ts'

function draw(): void {
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <Provider store={store}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </Provider>
    </StrictMode>,
  )
}

// Not awaited: the code that is read ahead would wait for this module to end.
void readAhead(location.pathname, store.dispatch)
  .catch(() => undefined)
  .then(draw)
registerServiceWorker(store.dispatch)
