import { createServer } from 'node:net'
import { readFileSync } from 'node:fs'
import { expect, test } from './fixtures'
import { freePort } from '../src/server/testing'

test('a chain is chosen and checked, its kit ticked, its lead drawn', async ({ page, fresh }) => {
  await page.goto(`${fresh.url}/connect`)
  await expect(page.getByText('Which family of link it is has not been told')).toBeVisible()
  await page.getByRole('link', { name: 'Chain and kit' }).first().click()
  await page.getByRole('button', { name: /^TNC on a serial line/ }).click()
  const checks = page.getByRole('list', { name: 'What the parts need of one another' })
  await expect(checks).toContainText('A TNC makes packet alone: not FT8.')
  await expect(checks).toContainText('The TNC’s link is off.')
  await page.getByRole('group', { name: 'Modes' }).getByLabel('FT8').uncheck()
  await page.getByRole('group', { name: 'Modes' }).getByLabel('packet 9600').check()
  await expect(checks).not.toContainText('not FT8')
  await page.getByLabel('Socket of the radio').click()
  await page.getByRole('option', { name: '6-pin mini-DIN, data socket' }).click()
  await page.getByLabel('Socket of interface or TNC').click()
  await page.getByRole('option', { name: '5-pin DIN, TNC' }).click()
  await page.getByLabel('Data socket is set to').click()
  await page.getByRole('option', { name: '1200, filtered' }).click()
  await expect(checks).toContainText('its output is filtered, and 9600 baud is lost')

  await page.getByLabel('Dummy load').check()
  await page.getByLabel('Something of your own').fill('Folding chair')
  await page.getByRole('button', { name: 'Add to the kit' }).click()
  await page.getByRole('checkbox', { name: 'Folding chair' }).check()
  await expect(page.getByRole('heading', { name: /^Kit: 2 of \d+ packed$/ })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { name: /^Kit: 2 of \d+ packed$/ })).toBeVisible()

  await page.getByRole('link', { name: 'Pins' }).click()
  await expect(page.getByRole('img', { name: /radio pin 4 \(9600 out\) to pin 4/ })).toBeVisible()
  await page.getByLabel('For', { exact: true }).click()
  await page.getByRole('option', { name: 'Packet, 1200 on the air' }).click()
  await expect(page.getByRole('img', { name: /radio pin 5 \(1200 out\) to pin 4/ })).toBeVisible()
  await page.getByText('Radio’s pins, as its manual has them').click()
  await page.getByRole('combobox', { name: 'Pin 3' }).first().click()
  await page.getByRole('option', { name: 'something else' }).click()
  await expect(page.getByText('No PTT through this lead')).toBeVisible()
})

test('channels are begun with a region’s customs, changed, and go out and come in as CSV', async ({ page, fresh }) => {
  await page.goto(`${fresh.url}/connect/channels`)
  await page.getByRole('button', { name: 'Add its packet and position channels' }).click()
  await expect(page.getByText('5 added, 0 of the same name replaced')).toBeVisible()
  await page.getByRole('button', { name: 'New channel' }).click()
  await page.getByLabel('Name').fill('Landing')
  await page.getByLabel('Receive, MHz').fill('145.600')
  await page.getByLabel('Transmit, MHz').fill('145.0')
  await page.getByLabel('Tone', { exact: true }).click()
  await page.getByRole('option', { name: 'tone sent', exact: true }).click()
  await page.getByRole('button', { name: 'Save the channel' }).click()
  const row = page.getByRole('row', { name: /Landing/ })
  await expect(row).toContainText('145.6000')
  await expect(row).toContainText('−600 kHz')
  await expect(row).toContainText('88.5 Hz')
  await page.getByLabel(/Set the shift to −600 kHz/).check()
  await expect(page.getByText(/How to put it into the radio, 1 of \d+ done/)).toBeVisible()

  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV out' }).click()])
  const csv = readFileSync(await file.path(), 'utf8')
  expect(csv).toContain('Landing,145.600,145.000,tone,88.5,fm,1200,')
  const choose = (name: string, text: string) =>
    page.getByLabel('CSV file of channels').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
  await choose('broken.csv', csv.replace('145.600', 'abc'))
  await expect(page.getByText(/broken\.csv: Line 7, receive_mhz: "abc" is no frequency/)).toBeVisible()
  await choose('back.csv', csv.replace('Landing', 'Start'))
  await expect(page.getByText('1 added, 5 of the same name replaced, from back.csv.')).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { name: '7 channels' })).toBeVisible()
})

test('an address is entered, tested and used; its password never comes back; the network is changed in order', async ({ page, fresh }) => {
  const server = createServer((socket) => socket.on('error', () => undefined))
  const port = await freePort()
  await new Promise<void>((done) => server.listen(port, '127.0.0.1', done))
  await page.goto(`${fresh.url}/connect/network`)
  await page.getByRole('button', { name: 'New address' }).click()
  await page.getByLabel('Its name').fill('Boathouse TNC')
  await page.getByLabel('It is a').click()
  await page.getByRole('option', { name: 'KISS TNC' }).click()
  await page.getByLabel('House network, address').fill('127.0.0.1')
  await page.getByLabel('House network, TCP port').fill(String(port))
  await page.getByLabel(/own network, address/).fill('192.168.4.1')
  await page.getByRole('button', { name: 'Save the address' }).click()
  await expect(page.getByRole('form').getByRole('alert')).toHaveText(/The radio’s own network: A port is/)
  await page.getByLabel(/own network, TCP port/).fill('8001')
  await page.getByLabel('User, if it asks for one').fill('rowan')
  await page.getByRole('button', { name: 'Save the address' }).click()

  await page.getByRole('button', { name: 'Test Boathouse TNC' }).click()
  await expect(page.getByText(/answers after \d+ ms/)).toBeVisible()
  await new Promise((done) => server.close(done))
  await page.getByRole('button', { name: 'Test Boathouse TNC' }).click()
  await expect(page.getByText(/nothing listens on its port \d+\. Check the port number/)).toBeVisible()

  await page.getByRole('button', { name: 'Change Boathouse TNC' }).click()
  await page.getByLabel('Password').fill('sallow-reach')
  await page.getByRole('button', { name: 'Keep the password' }).click()
  await expect(page.getByText('One is kept, sealed')).toBeVisible()
  expect(await (await fetch(`${fresh.url}/api/network`)).text()).not.toContain('sallow')
  await page.getByRole('button', { name: 'Leave it as it was' }).click()

  await page.getByRole('button', { name: 'Use as TNC: Boathouse TNC' }).click()
  await expect(page.getByText('in use')).toBeVisible()
  await page.getByRole('button', { name: 'The radio’s own network' }).click()
  const before = page.getByRole('group', { name: 'Before changing the network' })
  await expect(before).toContainText('The radio’s network has no internet. Sync the clock now')
  await before.getByRole('button', { name: 'Change anyway' }).click()
  await expect(page.getByRole('heading', { name: 'Today: the radio’s own network' })).toBeVisible()
  await expect(page.getByText('192.168.4.1:8001')).toBeVisible()
})

test('a radio on a serial port of this device is lent to the field computer, read, and let go', async ({ page, demo }) => {
  // A radio of semicolons and nine digits, in the page itself.
  await page.addInitScript(() => {
    const log: string[] = []
    Object.assign(window, { radioLog: log })
    class Port {
      readable: ReadableStream<Uint8Array> | null = null
      writable: WritableStream<Uint8Array> | null = null
      async open({ baudRate }: { baudRate: number }) {
        log.push(`open ${baudRate}`)
        let out: ReadableStreamDefaultController<Uint8Array>
        this.readable = new ReadableStream({ start: (controller) => void (out = controller) })
        let text = ''
        this.writable = new WritableStream({
          write(bytes) {
            text += new TextDecoder().decode(bytes)
            const commands = text.split(';')
            text = commands.pop()!
            for (const command of commands) {
              log.push(command)
              const answer = { FA: 'FA010136000;', MD0: 'MD0C;', TX: 'TX0;', RM6: 'RM6000;', RM5: 'RM5000;', RM4: 'RM4000;' }[command]
              if (answer) out.enqueue(new TextEncoder().encode(answer))
            }
          },
        })
      }
      async setSignals() {}
      async close() {
        log.push('close')
        this.readable = null
        this.writable = null
      }
    }
    const serial = { requestPort: async () => new Port(), getPorts: async () => [] }
    Object.defineProperty(Navigator.prototype, 'serial', { configurable: true, get: () => serial })
  })
  await page.goto(`${demo.url}/connect/control`)
  const control = page.getByRole('region', { name: 'Control and keying of the radio' })
  await control.getByLabel('Reached by').click()
  await page.getByRole('option', { name: 'Serial port of this device' }).click()
  await control.getByLabel('Command set', { exact: true }).click()
  await page.getByRole('option', { name: 'ASCII, ended by semicolons, 9 digits' }).click()
  await control.getByRole('switch', { name: 'CAT control' }).check()
  await control.getByRole('button', { name: 'Use these settings' }).click()
  await expect(control).toContainText('is not attached')
  await control.getByRole('button', { name: 'CAT control: pick the port of this device' }).click()
  await expect(control).toContainText('The radio answers')
  await expect(control).toContainText(/10.136\.0 kHz/)
  await expect(control).toContainText('In use: the picked port at 9600 baud.')

  await control.getByRole('button', { name: 'Take it back' }).click()
  await expect(control).toContainText(/gone|not attached/)
  expect(await page.evaluate(() => (window as unknown as { radioLog: string[] }).radioLog.at(-1))).toBe('close')

  // A dialect of one's own is tried dry before it is kept.
  await control.getByText('Another command set, written as JSON').click()
  await control.getByRole('button', { name: 'framed-bcd' }).click()
  await expect(control.getByRole('table', { name: 'Dry run' })).toContainText('FE FE 70 E0 03 FD')
  const json = control.getByLabel('Command set as JSON')
  const text = await json.inputValue()
  await json.fill(text.replace('"readFrequency"', '"readNothing"'))
  await expect(control.getByRole('alert')).toContainText('commands')
  await json.fill(text)
  await control.getByRole('button', { name: 'Keep this command set' }).click()
  await expect(control.getByText('Kept. Choose it in the list of command sets.')).toBeVisible()
  await control.getByRole('button', { name: 'Choose it' }).click()
  await control.getByRole('switch', { name: 'CAT control' }).uncheck()
  await control.getByLabel('Reached by').click()
  await page.getByRole('option', { name: 'Serial port', exact: true }).click()
  await control.getByRole('button', { name: 'Use these settings' }).click()
  await expect(control).toContainText('Off: the dial is set by hand')
})
