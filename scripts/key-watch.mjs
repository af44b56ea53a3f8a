// A process of its own that outlives the server: while the radio is keyed it holds the way to unkey it, and goes that way
// when the server is gone. It does nothing else, so that nothing can keep it from that.
import { connect } from 'node:net'

/** How often and how long it tries: the port may not be free in the very moment in which the server dies. */
const TRIES = 40
const BETWEEN_MS = 150
/** A radio that lost the first order hears the second one. */
const REPEATS = 3

let way

process.on('message', (message) => {
  way = message.way
})
process.on('disconnect', () => void unkey())
// The terminal's signals are for the server, which tells us when it has ended in order.
process.on('SIGINT', () => undefined)
process.on('SIGTERM', () => undefined)

// From now on nothing is missed; the server starts us long before it keys anything.
process.send?.({ ready: true })

const wait = (ms) => new Promise((done) => setTimeout(done, ms))

async function unkey() {
  if (!way) process.exit(0)
  const bytes = Buffer.from(way.bytes, 'hex')
  for (let tries = 0, told = 0; tries < TRIES && told < REPEATS; tries++) {
    if (await (way.port.kind === 'tcp' ? overNetwork(way.port, bytes) : overSerial(way, bytes))) told++
    await wait(BETWEEN_MS)
  }
  process.exit(0)
}

function overNetwork({ host, port }, bytes) {
  return new Promise((done) => {
    const socket = connect({ host, port, timeout: 1000 })
    const end = (ok) => {
      socket.destroy()
      done(ok)
    }
    socket.on('error', () => end(false))
    socket.on('timeout', () => end(false))
    // Closing at once could throw away what is not sent yet.
    socket.on('connect', () => socket.end(bytes, () => setTimeout(() => end(true), 50)))
  })
}

async function overSerial({ port: { path }, serialBaud, lines }, bytes) {
  const { SerialPort } = await import('serialport')
  return new Promise((done) => {
    // A key line that rests high must not fall with the port.
    const hupcl = !(lines?.rts || lines?.dtr)
    const port = new SerialPort({ path, baudRate: serialBaud, autoOpen: false, hupcl })
    port.open((problem) => {
      if (problem) return done(false)
      const close = (ok) => port.close(() => done(ok))
      const write = () => (bytes.length === 0 ? close(true) : port.write(bytes, () => port.drain((failed) => close(!failed))))
      // Pseudo-terminals have no lines: what cannot be set is passed over.
      if (lines) port.set(lines, write)
      else write()
    })
  })
}
