// The smallest radio that is believed, in a process of its own: it says frequency, mode and whether it transmits, and prints when
// it was keyed and unkeyed, in milliseconds of UTC. Its first line is its port. With a port as argument it listens there.
import { createServer } from 'node:net'

let keyed = false
const key = (on) => {
  if (on !== keyed) console.log(`${on ? 'keyed' : 'unkeyed'} ${Date.now()}`)
  keyed = on
}
const ANSWERS = {
  FA: () => 'FA014074000;',
  MD0: () => 'MD02;',
  TX: () => `TX${keyed ? 1 : 0};`,
  TX1: () => key(true),
  TX0: () => key(false),
}
const server = createServer((socket) => {
  let heard = ''
  socket.setNoDelay(true)
  socket.on('error', () => socket.destroy())
  socket.on('data', (bytes) => {
    const commands = (heard + bytes.toString('latin1')).split(';')
    heard = commands.pop().slice(-100)
    for (const command of commands) {
      const said = ANSWERS[command]?.()
      if (said) socket.write(said)
    }
  })
})
server.listen(Number(process.argv[2] ?? 0), '127.0.0.1', () => console.log(`port ${server.address().port}`))
