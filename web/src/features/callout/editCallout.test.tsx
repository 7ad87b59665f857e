import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useCalloutQuery } from '../../api/api.ts'
import { describe, expect, it } from 'vitest'
import { CALLOUT, renderPage, stubServer, TECHNICIAN, type Sent } from '../../test/page.tsx'
import { EditCallout } from './EditCallout.tsx'

function Page() {
  const { data } = useCalloutQuery(CALLOUT.id)
  return data ? <EditCallout callout={data} /> : null
}

/** A server on which somebody else saves in between. */
function serve(others: object | null) {
  let current = { ...CALLOUT }
  let first = true
  return stubServer({
    'GET /accounts': [TECHNICIAN],
    'GET /callouts/[^/]+': () => ({ status: 200, body: current }),
    'PATCH .*': ({ body }: Sent) => {
      if (first && others) current = { ...current, ...others, version: current.version + 1 }
      first = false
      const { version, ...changes } = body as { version: number }
      if (version !== current.version) return { status: 409, body: { code: 'stale-edit', message: 'stale' } }
      current = { ...current, ...changes, version: version + 1 }
      return { status: 200, body: current }
    },
  })
}

const open = async () => {
  renderPage(<Page />)
  await userEvent.click(await screen.findByRole('button', { name: 'Edit the callout' }))
  const title = await screen.findByLabelText('What is wrong')
  await userEvent.clear(title)
  await userEvent.type(title, 'Two links down')
}
const patches = (sent: Sent[]) => sent.filter(({ method }) => method === 'PATCH').map(({ body }) => body)

describe('editing a callout', () => {
  it('sends what was changed, on the version that was read', async () => {
    const sent = serve(null)
    await open()
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(patches(sent)).toEqual([{ version: 1, title: 'Two links down' }])
  })

  it('that another person changed elsewhere keeps both', async () => {
    const sent = serve({ alarm: 'Post driven into the towpath' })
    await open()
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText(/both stand\. Save again/)).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(patches(sent)[1]).toEqual({ version: 2, title: 'Two links down' })
  })

  it.each([
    ['yours', { version: 2, title: 'Two links down' }],
    ['as saved now', { version: 2 }],
  ])('that another person changed too shows both and asks: %s', async (whose, body) => {
    const sent = serve({ title: 'Three links down' })
    await open()
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText('Three links down')).toBeTruthy()
    expect(screen.getByText('Two links down')).toBeTruthy()
    expect((screen.getByRole('button', { name: 'Save' }) as HTMLButtonElement).disabled).toBe(true)
    await userEvent.click(screen.getByRole('radio', { name: new RegExp(whose) }))
    await userEvent.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(patches(sent)[1]).toEqual(body)
  })
})
