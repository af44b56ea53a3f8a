export { createFft, createRealFft, type ComplexFft, type RealFft } from './fft'
export { createBandFilter } from './bandFilter'
export { createGaussian, createRandom, whiteNoise, type Random } from './random'
export { createResampler, resample, type Resampler } from './resampler'
