export { type ReadinessEvidence, type ReadyId, type ReadyItem, type ReadyStage, type ReadyState } from './evidence'
export { assessReadiness, type Readiness } from './readiness'
export { KEY_PROOF_WORDS } from './sharedItems'
