export { contactFacts, type ContactFacts } from './contactFacts'
export { isSure, sureValue, type Fact } from './agreement'
export { heardWords, isCallWord, isNear, type HeardText } from './words'
