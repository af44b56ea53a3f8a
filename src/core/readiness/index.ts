export { assessReadiness, type Readiness, type ReadinessEvidence, type ReadyId, type ReadyItem, type ReadyState } from './readiness'
