import { expose } from 'comlink'
import { Psk31Band, usualLetters } from '@/core/psk31'
import type { Psk31ModemApi } from './psk31Modem.api'

let band = new Psk31Band(usualLetters())

const api: Psk31ModemApi = {
  restart() {
    band = new Psk31Band(usualLetters())
  },
  push(samples) {
    const texts = band.push(samples)
    return { texts, channels: band.channels, occupancy: band.occupancy, unread: band.unread }
  },
}

expose(api)
