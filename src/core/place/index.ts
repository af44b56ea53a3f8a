export { allocationOf } from './callSeries'
export { formatLocator, greatCircle, isLocator, locatorToPosition, positionToLocator, type Position } from './locator'
export { sunTimes, type SunTimes } from './sun'
