export {
  type Becomes,
  type ChangeCounts,
  type ChangeOfMany,
  type ChangePlan,
  type ChosenRecords,
  changePlanSchema,
  type FieldSetting,
  keptPlan,
  MOST_NAMED,
  type PastedRows,
} from './plan.ts';
export { type Give, giveOf, type PreparedSettings, prepareSettings, type RecordReader } from './values.ts';
export { describeChange, recordsNamed } from './words.ts';
