import { expose } from 'comlink'
import { createPacketReader } from './packetReader'

expose(createPacketReader())
