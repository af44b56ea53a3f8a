export {
  activationSchema,
  activationsSchema,
  countedContactSchema,
  type Activation,
  type Activations,
  type CountedContact,
} from './activation'
export { judgeActivation, type ActivationProgress } from './progress'
export { wordSpot, type Spot } from './spot'
export { sumUpSession, type SessionStatistics } from './sessionStatistics'
