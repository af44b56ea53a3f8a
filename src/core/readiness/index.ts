export {
  assessReadiness,
  KEY_PROOF_WORDS,
  type Readiness,
  type ReadinessEvidence,
  type ReadyId,
  type ReadyItem,
  type ReadyState,
} from './readiness'
