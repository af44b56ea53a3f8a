export { createFft, createRealFft, type ComplexFft, type RealFft } from './fft'
export { createGaussian, createRandom, type Random } from './random'
export { createResampler, resample, type Resampler } from './resampler'
