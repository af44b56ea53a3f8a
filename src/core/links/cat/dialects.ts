import { catDialectSchema, type CatDialect } from './dialect'

/**
 * The control dialects in common use, one for each structure and variant. They are told apart by structure and digits, not by
 * maker; an operator adds others as JSON of the same shape.
 */
const DATA: unknown[] = [
  {
    id: 'ascii-11',
    name: 'ASCII, ended by semicolons, 11 digits',
    structure: 'ascii',
    terminator: ';',
    serialBauds: [9600, 38_400, 4800, 57_600, 115_200, 19_200],
    modes: { lsb: '1', usb: '2', cw: '3', fm: '4', am: '5' },
    commands: {
      readFrequency: { send: 'FA;', reply: 'FA{frequency:11};' },
      setFrequency: { send: 'FA{frequency:11};' },
      readMode: { send: 'MD;', reply: 'MD{mode};' },
      setMode: { send: 'MD{mode};' },
      keyOn: { send: 'TX;' },
      keyOff: { send: 'RX;' },
      // In the radio's summary the 29th character says whether it transmits.
      readKeyed: { send: 'IF;', reply: 'IF{any:26}{keyed:1}{any:8};' },
      readPower: { send: 'SM0;', reply: 'SM0{value:4};' },
      readSwr: { send: 'RM1;', reply: 'RM1{value:4};' },
      readAlc: { send: 'RM3;', reply: 'RM3{value:4};' },
    },
    rejected: ['?;', 'E;', 'O;'],
    meters: {
      power: [
        [0, 0],
        [30, 1],
      ],
      swr: [
        [0, 1],
        [6, 1.5],
        [12, 2],
        [18, 3],
        [30, 10],
      ],
      alc: [
        [0, 0],
        [30, 1],
      ],
    },
  },
  {
    id: 'ascii-9',
    name: 'ASCII, ended by semicolons, 9 digits',
    structure: 'ascii',
    terminator: ';',
    serialBauds: [38_400, 9600, 4800, 19_200, 57_600, 115_200],
    modes: { lsb: '1', usb: '2', cw: '3', fm: '4', am: '5', 'lsb-data': '8', 'fm-data': 'A', 'usb-data': 'C' },
    commands: {
      readFrequency: { send: 'FA;', reply: 'FA{frequency:9};' },
      setFrequency: { send: 'FA{frequency:9};' },
      readMode: { send: 'MD0;', reply: 'MD0{mode};' },
      setMode: { send: 'MD0{mode};' },
      keyOn: { send: 'TX1;' },
      keyOff: { send: 'TX0;' },
      readKeyed: { send: 'TX;', reply: 'TX{keyed:1};' },
      readPower: { send: 'RM5;', reply: 'RM5{value:3};' },
      readSwr: { send: 'RM6;', reply: 'RM6{value:3};' },
      readAlc: { send: 'RM4;', reply: 'RM4{value:3};' },
    },
    rejected: ['?;'],
    keyedWhen: [1, 2],
    meters: {
      power: [
        [0, 0],
        [255, 1],
      ],
      swr: [
        [0, 1],
        [64, 1.5],
        [100, 2],
        [140, 3],
        [255, 10],
      ],
      alc: [
        [0, 0],
        [128, 1],
        [255, 2],
      ],
    },
  },
  {
    id: 'framed-bcd',
    name: 'Binary frames with addresses, BCD frequency',
    structure: 'framed',
    preamble: 'FE FE',
    end: 'FD',
    radioAddress: 0x70,
    hostAddress: 0xe0,
    serialBauds: [19_200, 9600, 115_200, 4800, 57_600, 38_400],
    modes: { lsb: '00', usb: '01', am: '02', cw: '03', fm: '05' },
    commands: {
      readFrequency: { send: 'FE FE {radio} {host} 03 FD', reply: 'FE FE {host} {radio} 03 {frequency:bcd-le:5} FD' },
      setFrequency: { send: 'FE FE {radio} {host} 05 {frequency:bcd-le:5} FD', reply: 'FE FE {host} {radio} FB FD' },
      readMode: { send: 'FE FE {radio} {host} 04 FD', reply: 'FE FE {host} {radio} 04 {mode} {any:1} FD' },
      setMode: { send: 'FE FE {radio} {host} 06 {mode} FD', reply: 'FE FE {host} {radio} FB FD' },
      keyOn: { send: 'FE FE {radio} {host} 1C 00 01 FD', reply: 'FE FE {host} {radio} FB FD' },
      keyOff: { send: 'FE FE {radio} {host} 1C 00 00 FD', reply: 'FE FE {host} {radio} FB FD' },
      readKeyed: { send: 'FE FE {radio} {host} 1C 00 FD', reply: 'FE FE {host} {radio} 1C 00 {keyed:byte} FD' },
      readPower: { send: 'FE FE {radio} {host} 15 11 FD', reply: 'FE FE {host} {radio} 15 11 {value:bcd-be:2} FD' },
      readSwr: { send: 'FE FE {radio} {host} 15 12 FD', reply: 'FE FE {host} {radio} 15 12 {value:bcd-be:2} FD' },
      readAlc: { send: 'FE FE {radio} {host} 15 13 FD', reply: 'FE FE {host} {radio} 15 13 {value:bcd-be:2} FD' },
    },
    rejected: ['FE FE {host} {radio} FA FD'],
    meters: {
      power: [
        [0, 0],
        [143, 0.5],
        [213, 1],
        [255, 1.3],
      ],
      swr: [
        [0, 1],
        [48, 1.5],
        [80, 2],
        [120, 3],
        [255, 10],
      ],
      alc: [
        [0, 0],
        [120, 1],
        [255, 2],
      ],
    },
  },
  {
    id: 'five-byte',
    name: 'Five bytes, command last, BCD frequency in tens of hertz',
    structure: 'fixed',
    serialBauds: [4800, 9600, 38_400],
    modes: { lsb: '00', usb: '01', cw: '02', am: '04', fm: '08', 'usb-data': '0A', 'fm-data': '0C' },
    commands: {
      readFrequency: { send: '00 00 00 00 03', reply: '{frequency:bcd-be:4*10} {any:1}' },
      setFrequency: { send: '{frequency:bcd-be:4*10} 01', reply: '{any:1}' },
      readMode: { send: '00 00 00 00 03', reply: '{any:4} {mode}' },
      setMode: { send: '{mode} 00 00 00 07', reply: '{any:1}' },
      keyOn: { send: '00 00 00 00 08', reply: '{any:1}' },
      keyOff: { send: '00 00 00 00 88', reply: '{any:1}' },
      // Bit 7 is 1 while receiving, bit 6 a standing wave that is too high, bits 0 to 3 the power meter.
      readKeyed: { send: '00 00 00 00 F7', reply: '{keyed:bits:7-7}' },
      readPower: { send: '00 00 00 00 F7', reply: '{value:bits:0-3}' },
      readSwr: { send: '00 00 00 00 F7', reply: '{value:bits:6-6}' },
    },
    keyedWhen: [0],
    meters: {
      power: [
        [0, 0],
        [15, 1],
      ],
      // The radio says only that it is too high: 1 or well over any limit.
      swr: [
        [0, 1],
        [1, 10],
      ],
    },
  },
]

export const BUILT_IN_DIALECTS: readonly CatDialect[] = DATA.map((data) => catDialectSchema.parse(data))
