export { CALENDAR_LIMIT_BYTES, calendarToPlan, planToCalendar, type CalendarImport } from './calendar'
export {
  emptyPlan,
  eventsBetween,
  judgePlan,
  netSchema,
  PLAN_MODES,
  planBlockSchema,
  sessionPlanSchema,
  wordEvent,
  type Net,
  type PlanBlock,
  type PlanEvent,
  type PlanState,
  type SessionPlan,
} from './sessionPlan'
