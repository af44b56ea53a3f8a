/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { defaultLinkConfig, idleDiagnosis, type LinkConfig, type LinkState, type RungState, type TriedLink } from '@/core/links'
import { answer, serve, show } from '../../testing'
import { LinkPanels } from './LinkPanels'

const quiet: LinkState = {
  control: { state: 'off', detail: 'Off.', frequencyHz: null, mode: null, keyed: null, power: null, swr: null, alc: null, swrMeter: true },
  keying: { by: 'vox', state: 'off', detail: '', proof: 'none' as const, unknown: false, leadMs: 100, tailMs: 50 },
  tnc: { state: 'off', detail: 'Off.', frames: [], badFrames: 0, modem: false, airBaud: 1200 },
  diagnosis: null,
  alarm: null,
  wire: [],
  standins: { radio: null, tnc: null },
}
const onSerial: LinkConfig = {
  ...defaultLinkConfig,
  control: { ...defaultLinkConfig.control, enabled: true, port: { kind: 'serial', path: '/dev/ttyUSB0' } },
}
const rungs = (changes: Partial<Record<string, Partial<RungState>>>) => idleDiagnosis.rungs.map((r) => ({ ...r, ...changes[r.rung] }))

let orders: { path: string; body: unknown }[] = []
let config: LinkConfig
beforeEach(() => {
  orders = []
  config = onSerial
  serve((url, init) => {
    if (init?.method) orders.push({ path: url, body: JSON.parse(String(init.body)) })
    if (url.endsWith('/ports')) return answer(200, [{ path: '/dev/ttyUSB0', name: '/dev/ttyUSB0, Reed Box' }])
    if (url.endsWith('/config'))
      return answer(200, init?.method === 'PUT' ? (config = JSON.parse(String(init.body)) as LinkConfig) : config)
    return answer(200, {})
  })
})
const open = async (links: Partial<LinkState>, of: TriedLink = 'control') => {
  show(<LinkPanels of={of} />, { state: { links: { ...quiet, ...links } as LinkState } })
  await screen.findByRole('switch', { name: 'Show raw data' })
}

describe('LinkPanels', () => {
  it('shows what the radio says', async () => {
    await open({
      control: {
        ...quiet.control,
        state: 'talking',
        detail: '/dev/ttyUSB0 is open.',
        frequencyHz: 7_074_000,
        mode: 'usb',
        swr: 1.4,
        power: 0.5,
      },
      keying: { ...quiet.keying, by: 'cat', state: 'keyed' },
    })
    expect(screen.getByText('The radio answers')).toBeTruthy()
    expect(screen.getByText(/^7.074\.0 kHz$/)).toBeTruthy()
    expect(screen.getByText('keyed')).toBeTruthy()
    expect(screen.getByText('1.4')).toBeTruthy()
  })

  it('sends a change only when it can work, and once', async () => {
    await open({})
    fireEvent.mouseDown(screen.getByLabelText('The radio is keyed'))
    fireEvent.click(screen.getByRole('option', { name: 'By DTR of a serial port' }))
    fireEvent.click(screen.getByRole('switch', { name: 'The line is low while transmitting' }))
    expect(screen.getByText(/raise both lines for an instant/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Use these settings' }))
    await waitFor(() => expect(orders).toHaveLength(1))
    expect(orders[0]).toMatchObject({ path: '/api/links/config', body: { keying: { by: 'dtr', inverted: true } } })
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Use these settings' })).toBeNull())
  })

  it('does not send a TNC without a port', async () => {
    await open({}, 'tnc')
    fireEvent.click(screen.getByRole('switch', { name: 'TNC' }))
    expect(screen.getByRole('alert').textContent).toBe('Choose the port of the TNC')
    expect(screen.getByRole('button', { name: 'Use these settings' })).toHaveProperty('disabled', true)
    fireEvent.click(screen.getByRole('button', { name: 'Leave it as it was' }))
    expect(screen.queryByRole('button', { name: 'Use these settings' })).toBeNull()
    expect(orders).toEqual([])
  })

  it('shows where the ladder stopped, and applies what would put it right', async () => {
    const verdict = {
      ok: false as const,
      rung: 'speed' as const,
      code: 'wrong-speed' as const,
      evidence: 'It answers at 4800 baud and is set to 9600.',
      advice: 'Set this side to 4800 baud.',
      fix: { serialBaud: 4800 },
    }
    const now = {
      rungs: rungs({ power: { status: 'good', evidence: 'It talks.' }, speed: { status: 'bad', evidence: verdict.evidence } }),
      at: null,
      verdict,
    }
    await open({ diagnosis: { link: 'control', now } as unknown as LinkState['diagnosis'] })
    expect(screen.getByRole('list', { name: 'Ladder' }).querySelector('[data-status=bad]')!.textContent).toMatch(/Serial speed.*failed/)
    expect(screen.getByText(verdict.advice)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Use 4800 baud' }))
    await waitFor(() => expect(orders[0]?.body).toMatchObject({ control: { serialBaud: 4800, port: { path: '/dev/ttyUSB0' } } }))
    fireEvent.click(screen.getByRole('button', { name: 'Try the link again' }))
    await waitFor(() => expect(orders[1]).toEqual({ path: '/api/links/diagnose', body: { action: 'start', link: 'control' } }))
  })

  it('asks what only the operator can see, and can be stopped', async () => {
    const now = {
      rungs: rungs({ power: { status: 'asking', question: 'Is it switched on?', evidence: 'Nothing was heard.' } }),
      at: 'power',
      verdict: null,
    }
    await open({ diagnosis: { link: 'control', now } as unknown as LinkState['diagnosis'] })
    fireEvent.click(screen.getByRole('button', { name: 'I cannot tell' }))
    fireEvent.click(screen.getByRole('button', { name: 'Stop trying' }))
    await waitFor(() =>
      expect(orders.map((o) => o.body)).toEqual([{ action: 'answer', rung: 'power', answer: 'unknown' }, { action: 'stop' }]),
    )
  })

  it.each([
    ['tnc', 'open', 'hears', 'Does not work: hears'],
    ['tnc', 'talking', 'hears', 'It hears'],
    ['control', 'talking', 'keys', 'Does not work: keys'],
    ['control', 'silent', 'answers', 'Does not work: answers'],
    // It answers since: what was found is over.
    ['control', 'talking', 'port', 'The radio answers'],
  ] as const)('%s, %s, whose ladder failed at %s: %s', async (link, state, rung, said) => {
    const verdict = { ok: false, rung, code: 'deaf', evidence: 'It was so.', advice: 'Mend it.' }
    const part = { ...quiet[link], state }
    await open(
      { [link]: part, diagnosis: { link, now: { rungs: rungs({}), at: null, verdict } } as unknown as LinkState['diagnosis'] },
      link,
    )
    expect(screen.getByText(said)).toBeTruthy()
  })

  it('shows frames and bytes', async () => {
    await open(
      {
        tnc: {
          state: 'talking',
          detail: '',
          badFrames: 0,
          modem: false,
          airBaud: 1200,
          frames: [
            {
              ...{ sequence: 1, utcMs: 0, from: 'Q1ABC', to: 'Q1POS', line: 'Q1ABC>Q1POS,Q9HIL*', kind: 'UI', text: 'at the ferry' },
              via: [{ call: 'Q9HIL', repeated: true }],
            },
          ],
        },
        wire: [{ sequence: 2, link: 'tnc', way: 'in', hex: 'C0 00', text: '··' }],
      },
      'tnc',
    )
    const row = screen.getByRole('row', { name: /Q1ABC/ })
    expect([...row.children].map((cell) => cell.textContent)).toEqual([
      ...['00:00:00', 'Q1ABC', 'Q1POS', 'Q9HIL, repeated', 'UI', 'at the ferry'],
    ])
    fireEvent.click(screen.getByRole('switch', { name: 'Monitor lines' }))
    expect(screen.getByText('Q1ABC>Q1POS,Q9HIL* UI at the ferry')).toBeTruthy()
    fireEvent.click(screen.getByRole('switch', { name: 'Show raw data' }))
    expect(screen.getByRole('table', { name: 'Bytes on the link' }).textContent).toMatch(/from itC0 00··/)
  })

  it('says when the field computer does not answer', async () => {
    serve(() => answer(500, { error: 'The database is not open.' }))
    show(<LinkPanels of="control" />)
    await waitFor(() => expect(screen.getByText('The database is not open.')).toBeTruthy(), { timeout: 8000 })
  })
})
