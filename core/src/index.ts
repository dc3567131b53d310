// The public face of core: a list, no barrels inside.
export { ok, err, unreachable, type Result } from './result.ts'
export type { Working, WorkingLine } from './working.ts'
export {
  litres,
  millilitres,
  milligrams,
  grams,
  mgPerL,
  mgPerMl,
  centimetres,
  hours,
  psu,
  celsius,
  epochMs,
  fraction,
  LITRES_PER_US_GALLON,
  ML_PER_TEASPOON,
  CM_PER_INCH,
  MEQ_PER_L_PER_DKH,
  MG_CACO3_PER_L_PER_DKH,
  MS_PER_HOUR,
  HOURS_PER_DAY,
  type Quantity,
  type Litres,
  type Millilitres,
  type Milligrams,
  type Grams,
  type MgPerL,
  type MgPerMl,
  type Centimetres,
  type Hours,
  type Celsius,
  type Psu,
  type Fraction,
  type EpochMs,
} from './units/quantity.ts'
export {
  UNITS,
  CANONICAL_UNIT,
  DIMENSION_WORDS,
  SG_REFERENCE_C,
  unitOf,
  toCanonical,
  fromCanonical,
  type Dimension,
  type Unit,
} from './units/units.ts'
export {
  parseNumber,
  typedNumber,
  parseQuantity,
  type ParsedQuantity,
  type ParseOptions,
  type ParseProblem,
} from './units/parse.ts'
export {
  DEFAULT_PREFERENCES,
  formatDose,
  formatDuration,
  formatNumber,
  formatQuantity,
  inSentence,
  preferredUnit,
  type Formatted,
  type UnitPreferences,
} from './units/format.ts'
export { pureWaterDensity, seawaterDensity, specificGravity, salinityFromSpecificGravity } from './water/seawater.ts'
export {
  STANDARD_CONDUCTIVITY,
  TDS_PER_US,
  conductivityFromSalinity,
  hydrometerReading,
  salinityFromConductivity,
  salinityFromRatio,
  saltForBatch,
  waterForBatch,
} from './water/salinity.ts'
export {
  AMMONIA_BANDS,
  FRESH_BELOW_PSU,
  ammoniaBand,
  ammoniaPka,
  convertAmmonia,
  freeAmmoniaShare,
  freeFromTotal,
  freshAmmoniaPka,
  seaAmmoniaPka,
  totalFromFree,
  type AmmoniaBand,
  type AmmoniaForm,
  type AmmoniaWater,
} from './water/ammonia.ts'
export {
  NBS_MINUS_TOTAL_AT_SEA,
  alkalinityFromDkh,
  balanceWithAir,
  carbonFromPh,
  carbonSpecies,
  carbonateConstants,
  co2InBalance,
  dkhFromAlkalinity,
  nbsOffset,
  phFromCarbon,
  type CarbonSpecies,
  type CarbonateConstants,
} from './water/carbonate.ts'
export { oxygenPercent, oxygenSaturation, oxygenSaturationUmolPerKg } from './water/oxygen.ts'
export { circularSegmentArea, innerFootprint, planLength, type Shape, type MeasuredShape } from './water/shapes.ts'
export {
  netVolume,
  checkVolumeInputs,
  rockDisplacement,
  sumpWater,
  volumeInputWord,
  LEAST_VOLUME_DOUBT,
  type Measured,
  type NetVolume,
  type VolumeInputs,
  type VolumeProblem,
} from './water/netVolume.ts'
export {
  tracerVolume,
  freshWaterTracerVolume,
  combineVolumes,
  VOLUME_DISAGREEMENT,
  type CombinedVolume,
  type TracerOptions,
} from './water/tracer.ts'
export {
  afterChange,
  afterChanges,
  afterContinuousChange,
  changesToTarget,
  changesWithProduction,
  continuousVolumesFor,
  fractionForResidual,
  freshWaterShareForGravity,
  growingHoursWithin,
  growingLevel,
  growingTemperature,
  grownVolume,
  makeUpMass,
  mixByMass,
  mixByVolume,
  overflowHoursWithin,
  overflowLevel,
  overflowTemperature,
  residualFraction,
  scoopStates,
  type ChangesToTarget,
  type DripOptions,
  type HeatExchange,
  type ScoopOptions,
  type TubState,
  type Water,
} from './water/mixing.ts'
export { molarMass, speciesShare, alkalinitySaltMass, type SpeciesShare } from './dosing/chemistry.ts'
export {
  activeContent,
  dilution,
  equivalentMl,
  type ActiveContent,
  type PourUnit,
  type Strength,
  type StrengthProblem,
} from './dosing/strength.ts'
export {
  doseFor,
  measureFor,
  rampLevels,
  resultingLevel,
  resultOverVolumeDoubt,
  roundToStep,
  suggestedDilution,
  SYRINGES,
  SCALES,
  ROUNDING_TOLERANCE,
  type Dose,
  type DoseOptions,
  type DoseProblem,
  type DoseRange,
  type Measure,
} from './dosing/dose.ts'
export {
  levelCurve,
  hoursToFall,
  halfLifeHours,
  rateOfHalfLife,
  repeatDoseSteadyState,
  type LevelEvent,
  type LevelPoint,
  type LevelScenario,
  type RateInterval,
} from './level/curve.ts'
export {
  logPriorFromRange,
  DOSE_SD_SHARE,
  CHANGE_SD_SHARE,
  INSTRUMENT_BIAS_SD,
  CHECKED_BIAS_SD,
  type LevelModel,
  type LevelReading,
  type LogPrior,
  type MediaInterval,
  type UncertainEvent,
} from './level/model.ts'
export { normalCdf, normalPdf, normalQuantile } from './level/normal.ts'
export {
  levelPosterior,
  type LevelPosterior,
  type PosteriorNode,
  type PosteriorOptions,
  type ReadingFit,
} from './level/posterior.ts'
export { nextDose, type NextDose, type NextDoseOptions, type NextDoseRefusal } from './level/nextDose.ts'
export {
  nextTest,
  type NextTest,
  type NextTestOptions,
  type TestChoice,
  type TestInstrument,
} from './level/nextTest.ts'
export { SimulatedTank, drawTruth, normalFrom, randomFrom, type KitError, type TrueTank } from './level/simulate.ts'
export { bandCredit, crossingTime, type BandCredit, type Crossing, type CurveSegment } from './clock/crossings.ts'
export {
  therapeuticClock,
  clockDifference,
  type ClockDifference,
  type ClockInputs,
  type ClockInterval,
  type ClockReason,
  type ClockReset,
  type ClockRules,
  type ClockSchool,
  type ClockState,
} from './clock/therapeutic.ts'
export {
  entryMs,
  instantMs,
  instantOf,
  dayOf,
  atHourOfDay,
  addDays,
  startOfDay,
  daysBetween,
  zonedOf,
  timeOfDayBefore,
} from './time/time.ts'
export type {
  ActiveLedger,
  Analyte,
  ArrivalBody,
  ArrivalDocument,
  BathEntry,
  ChangeEntry,
  CheckEntry,
  Container,
  ContainerEntry,
  CountEntry,
  CourseBody,
  CourseDocument,
  DoneEntry,
  DoseEntry,
  Entry,
  EntryKind,
  EquipmentEntry,
  GateEntry,
  InstrumentBody,
  FindingBody,
  FindingDocument,
  GearBody,
  GearDocument,
  House,
  GearEntry,
  HeadsEntry,
  InstrumentDocument,
  ProtocolBody,
  ProtocolDocument,
  KeeperRecord,
  MealEntry,
  MoveEntry,
  NoteEntry,
  OverrideEntry,
  PhotoEntry,
  ProductBody,
  ProductDocument,
  ReadingEntry,
  RecordFile,
  RegisterDocument,
  RegisterName,
  ResidentBody,
  ResidentDocument,
  Settings,
  SignEntry,
  SkipEntry,
  TopoffEntry,
  VesselBody,
  VesselDocument,
  VoidEntry,
} from './record/types.ts'
export {
  activeEntries,
  compareEntries,
  documentsOf,
  entryStatuses,
  recordOf,
  revised,
  type EntryStatus,
} from './record/account.ts'
export { FORMAT, MAX_FILE_BYTES, SCHEMA_VERSION, toFile } from './record/format.ts'
export { ANALYTES, parseLine, type LineDraft, type LineProblem } from './record/typedLine.ts'
export {
  agentForm,
  agentForms,
  groupOf,
  groups,
  sensitivity,
  species,
  type AgentForm,
  type Group,
  type SensitivityCode,
  type Species,
} from './knowledge/agents.ts'
export {
  protocolHash,
  protocolLibrary,
  protocolOf,
  type Condition as PhaseCondition,
  type Phase,
  type Protocol,
  type Rule,
  type RuleOf,
  type Value,
  type Variant,
} from './knowledge/protocols.ts'
export {
  changedShare,
  dosedForms,
  kitOf,
  levelModelOf,
  pouredMass,
  vesselVolume,
  type VesselLevel,
} from './level/fromRecord.ts'
export {
  earningForecast,
  estimateCourse,
  readingInfluence,
  type ReadingInfluence,
  type CourseEstimate,
  type DoseWish,
  type EarningForecast,
  type EstimateInputs,
  type Series,
} from './level/estimate.ts'
export {
  courseBand,
  courseInputs,
  doseWish,
  hoursToNextTest,
  type CourseBand,
  type CourseInputs,
} from './protocols/courseInputs.ts'
export {
  conditionTime,
  courseContext,
  rotaOf,
  courseProgress,
  findRule,
  rampProgress,
  valueFor,
  type CourseContext,
  type CourseProgress,
  type PhaseProgress,
  type RampProgress,
} from './protocols/progress.ts'
export { leastDays, plan, planCourse, runningCourses, type CoursePlan, type PlanOptions } from './protocols/plan.ts'
export type { Step, StepDose, StepState } from './protocols/stepBuilder.ts'
export { settingValues } from './protocols/settingSteps.ts'
export { actContext } from './acts/context.ts'
export { answer, commitAct, type Commit, type CommitProblem } from './acts/acts.ts'
export { mayPass, problemAnswer, spoken, verdictOf, OVERRIDE_LETTERS } from './acts/answer.ts'
export { checkProduct } from './acts/product.ts'
export { readStrength } from './dosing/readStrength.ts'
export { formMeant, roomFor } from './acts/dose.ts'
export { readCount, readPour } from './acts/amounts.ts'
export { plausibleRange } from './acts/plausible.ts'
export { patched } from './acts/registers.ts'
export { riseWithin } from './acts/correction.ts'
export type {
  ActAnswer,
  ActContext,
  BathIntent,
  BottleIntent,
  ChangeIntent,
  CorrectionIntent,
  CourseIntent,
  DoseIntent,
  Draft,
  EquipmentIntent,
  Intent,
  LeaveIntent,
  LevelPreview,
  MoveIntent,
  NoteIntent,
  Override,
  ReadingIntent,
  ResidentIntent,
  VesselIntent,
} from './acts/types.ts'
export { gravest, gravity, type Refusal, type RefusalLevel, type Verdict } from './safety/refusal.ts'
export {
  ceilingAt,
  freshReading,
  isInside,
  limitIn,
  mostInside,
  reached,
  type Limit,
  type Room,
} from './safety/limits.ts'
export { bathLimit, longestMinutes } from './safety/baths.ts'
export { exposuresOf, openBaths, staysOf, type Exposure } from './safety/animals.ts'
export { coursesIn, holdsCopper, methodOfCourse, partiesIn } from './safety/water.ts'
export { levelOf, levelsIn, type KnownLevel } from './safety/level.ts'
export { waterOf } from './safety/gate.ts'
export { knownLevels } from './protocols/known.ts'
export {
  isDay,
  isInstant,
  isLocale,
  isZone,
  unsoundEntry,
  unsoundRegister,
  unsoundSettings,
  type Fault,
} from './record/sound.ts'
export { headsAt, headsOf } from './record/heads.ts'
export { residentsIn, residentVessels } from './record/whereabouts.ts'
export { methodOf, methods, type Method } from './knowledge/methods.ts'
export { formGiven, formAmong, formInWater, usesOf } from './knowledge/uses.ts'
export { hazardOf, hazards, type Hazard } from './knowledge/hazards.ts'
export { interactionBetween, interactionOf, interactions, type Interaction, type Party } from './safety/interactions.ts'
export { protocolCalendar, type CalendarItem, type ProtocolCalendar } from './protocols/calendar.ts'
export { runningShort, stockOf, type Stock } from './dosing/stock.ts'
export { fallowState, warmWait, type FallowState } from './protocols/fallow.ts'
export { evaluate, type Given } from './protocols/expression.ts'
export { handlingOf, type Handling } from './protocols/handling.ts'
export { activeOf, advanceActive, carryActive } from './record/ledgerIndex.ts'
export { createPlanner, type CourseFault, type Planned } from './protocols/planner.ts'
export { carriedInto, gearState, type Carried, type GearState } from './record/gear.ts'
export { foodMix } from './protocols/treatmentSteps.ts'
export { defaultSettings } from './record/settings.ts'
export { concernsOf, type Concern } from './protocols/concerns.ts'
export {
  ammoniaAct,
  ammoniaConcerns,
  ammoniaWatchOf,
  comparisonWords,
  type AmmoniaAct,
  type AmmoniaMethod,
  type AmmoniaWatch,
} from './protocols/ammoniaWatch.ts'
export { ammoniaOf, comparisonsOf, suspectInstruments, type ComparedReading, type Sitting } from './record/compared.ts'
export { coursePreview, type CoursePreview, type PreviewDose, type PreviewOptions } from './protocols/preview.ts'
export {
  METHOD_IDS,
  acclimationKinds,
  acclimationModel,
  acclimationSources,
  inspectionOf,
  kindOf,
  transitOf,
  type AcclimationKind,
  type Inspection,
  type MethodId,
  type TransitClass,
} from './acclimation/kinds.ts'
export {
  floatTimeConstant,
  runAcclimation,
  type Run,
  type RunAction,
  type RunEnvironment,
  type RunInputs,
  type RunSeries,
  type WaterState,
} from './acclimation/run.ts'
export {
  HORIZON_MIN,
  CLOSED_STEP_C,
  floatMinutes,
  floatStages,
  methodActions,
  settingsFor,
  waterToFinish,
  type MethodSettings,
} from './acclimation/methods.ts'
export {
  GRID_MIN,
  METHOD_WORDS,
  aspectSentence,
  compareMethods,
  freeNow,
  isFouled,
  largestChange,
  sampleSeries,
  type Aspect,
  type AspectId,
  type BagInputs,
  type CompareInputs,
  type Comparison,
  type CurveId,
  type Equipment,
  type Flip,
  type MethodResult,
  type Ranged,
  type TankInputs,
} from './acclimation/compare.ts'
export {
  DROPS_PER_ML,
  dropsPerSecond,
  litresPerHourOfDrops,
  liveRun,
  type LiveInputs,
  type LivePhase,
  type LiveRun,
  type LiveStep,
} from './acclimation/live.ts'
export {
  arrivalStage,
  containerEntries,
  containerStage,
  type ArrivalStage,
  type ContainerStage,
} from './acclimation/stage.ts'
export {
  bagInputs,
  containerInputs,
  estimatedTan,
  liveInputsOf,
  settingsOfEntry,
  tankInputs,
  transitHours,
} from './acclimation/arrival.ts'
export { checkArrival, checkContainer, checkMeasured } from './safety/arrivalChecks.ts'
export { DEFAULT_TARGET_PAR, lightStart } from './acclimation/light.ts'
export { newCourseBody, type NewCourse } from './protocols/newCourse.ts'
export { median, theilSen, type TrendPoint } from './trends/theilSen.ts'
export {
  INTRODUCTION_PROTOCOLS,
  conflictState,
  introductionPlan,
  type ConflictState,
  type IntroductionId,
  type IntroductionPlan,
  type Rivalry,
} from './introductions/introduction.ts'
export { usualRange, type UsualRange } from './knowledge/ranges.ts'
export {
  THREATS,
  compareSchools,
  daysToRelease,
  variantFor,
  type CompareSchoolsOptions,
  type SchoolColumn,
  type SchoolComparison,
  type ThreatId,
} from './protocols/compareSchools.ts'
export {
  quickSigns,
  signOf,
  signPairs,
  signs,
  slideTable,
  type Sign,
  type SignPair,
  type TimedTest,
} from './knowledge/signs.ts'
export { watchOfDay, type LookOfDay } from './knowledge/watch.ts'
export {
  breathingOf,
  EXTENSION,
  openSigns,
  residentDays,
  type ResidentDay,
  watchDays,
  WHOLE_DAY,
  type BreathingState,
  type WatchDay,
} from './record/observation.ts'
export { exitTicks, type ExitTick } from './protocols/exitTicks.ts'
export { checkLaw, lawOf, type LawAnswer } from './safety/law.ts'
export {
  courseNeeds,
  PRODUCT_MARGIN,
  WATER_MARGIN,
  type CourseNeeds,
  type CourseNeedsOptions,
  type ProductNeed,
} from './protocols/courseNeeds.ts'
export { warmDays, warmDaysIn, type WarmDaysState } from './protocols/warmDays.ts'
export {
  POOLS,
  conditionOf,
  conditionTables,
  conditions,
  conditionsOf,
  lintConditions,
  poolOf,
  signsOf,
  tableOf,
  type Condition,
  type Pool,
  type Urgency,
} from './knowledge/conditions.ts'
export { contextEvidence, type Flow, type WaterContext } from './diagnosis/context.ts'
export { testAnswers, testConcerns, testsOf, testState, testStep } from './diagnosis/timedTests.ts'
export { exposures, findingInput, likelyCourses } from './diagnosis/finding.ts'
export { type Background } from './diagnosis/background.ts'
export { diagnose, type Diagnosis, type DiagnosisInput } from './diagnosis/diagnose.ts'
export { lookOf, nextLooks, type Look, type NextLooks } from './diagnosis/nextLook.ts'
export {
  DANGER,
  LEADS,
  MOST,
  NAMED,
  NOISE,
  notExcluded,
  rankConditions,
  type Answer,
  type Evidence,
  type Pair,
  type Ranked,
  type Ranking,
  type Reason,
  type Recent,
  type Subject,
} from './diagnosis/rank.ts'
export { caseOutcome, caseProblems, type CaseFile, type CaseOutcome, type DiagnosisCase } from './diagnosis/cases.ts'
export { moverShare, slideSigns, type SlideClass } from './diagnosis/slide.ts'
export { historyFlows, sharedTrouble, SPOTS } from './diagnosis/history.ts'
export { looksToSure, simulateDiagnosis, type SimulatedAccuracy } from './diagnosis/simulate.ts'
export {
  certainlyOver,
  chanceOver,
  eradication,
  inspectionsNeeded,
  mobilesOnly,
  planTreatments,
  type DetectionUnit,
  type Eradication,
  type Founder,
  type LifeStages,
  type Spacing,
  type TreatmentPlan,
} from './lifecycle/lifecycle.ts'
export {
  lampOfPlate,
  killedBeforeEnd,
  lampShare,
  maxFlowForDose,
  passKill,
  swimmers,
  treatedShare,
  ultravioletDose,
} from './outbreak/ultraviolet.ts'
export {
  pestOf,
  pestRounds,
  pestSources,
  pestStages,
  pests,
  slowness,
  type Pest,
  type Rounds,
  type RoundsInputs,
} from './outbreak/pests.ts'
export { dailyNumbers, type DailyRow, type DailyStages, type DailyTreatment } from './lifecycle/daily.ts'
export { dailyStages, lastRoundDay, roundRule, type RoundRule } from './outbreak/pests.ts'
export {
  readCounts,
  trendOf,
  type CountModel,
  type CountVerdict,
  type CountedRound,
  type Trend,
} from './outbreak/counts.ts'
export {
  addedMeasure,
  inBand,
  measurePoints,
  measureValue,
  shareInterval,
  type Campaign,
  type Measure as CampaignMeasure,
  type MeasurePoint,
  type TallyEntry,
} from './outbreak/measures.ts'
export { chanceLarger, compareArms, type ArmComparison, type ArmPatch } from './outbreak/arms.ts'
export { JAR_LOOKS_H, JAR_MARGIN_H, jarVerdict, redose, type JarVerdict } from './outbreak/jar.ts'
export { removalForecast, type RemovalForecast } from './outbreak/removal.ts'
export { CALL_AT, darkForecast, type DarkForecast, type DarkReading } from './outbreak/darkForecast.ts'
export { livestockBack, type Waiting } from './outbreak/livestock.ts'
export {
  animalGuards,
  guardStates,
  isPast,
  limitValue,
  limitWords,
  type AnimalGuard,
  type Guard,
  type GuardState,
} from './outbreak/guards.ts'
export { causeChecklist, causeSources, causes, type Cause, type CauseAnswer } from './outbreak/causes.ts'
export {
  campaignOf,
  campaignState,
  fights,
  type Answer as CampaignAnswer,
  type CampaignAlarm,
  type CampaignState,
  type Effort,
  type MeasureState,
  type Tone,
} from './outbreak/campaign.ts'
export {
  changesTo,
  consumption,
  silicateDose,
  steer,
  type ChangePlan,
  type Consumption,
  type SilicateDose,
  type SteerDose,
} from './outbreak/steering.ts'
export {
  correctionOf,
  correctionSources,
  corrections,
  saltGrams,
  saltWorking,
  steerState,
  type Correction,
  type Salt,
  type SteerState,
} from './outbreak/steerState.ts'
export { campaignConcernsOf } from './protocols/campaignConcerns.ts'
export { type RoundWork, type SpotWork } from './protocols/stepBuilder.ts'
export { heldIn, heldState, type Held, type HeldState } from './protocols/held.ts'
export { checkedWords, waterConcerns } from './protocols/waterConcerns.ts'
export { CHECK_DAYS, checkStands } from './level/fromRecord.ts'
export { STANDARD_CHECK } from './protocols/plan.ts'
