export { clockHistory } from './clock'
export { contactHistory, contacts, journalMark } from './log'
export { documents, heard } from './station'
export { levelHistory, levelProfiles, radioSheets } from './levels'
