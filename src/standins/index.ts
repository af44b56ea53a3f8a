export { createPracticeBand, type OperatorAudio, type PracticeBand, type PracticeBandOptions } from './practiceBand'
