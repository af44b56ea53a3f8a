export {
  catAnswers,
  createCatSession,
  reduceCat,
  type CatAction,
  type CatEvent,
  type CatRequest,
  type CatState,
  type RadioReadings,
} from './catSession'
export {
  catDialectSchema,
  compileDialect,
  dryRun,
  RADIO_MODES,
  scaleMeter,
  type CatCommand,
  type CatDialect,
  type Dialect,
  type DryRunLine,
  type RadioMode,
} from './dialect'
export { BUILT_IN_DIALECTS } from './dialects'
export { renderTemplate } from './template'
