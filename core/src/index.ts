// The public face of core: a list, no barrels inside.
export { ok, unreachable, type Result } from './result.ts'
export type { Working, WorkingLine } from './working.ts'
export {
  litres,
  millilitres,
  grams,
  mgPerL,
  mgPerMl,
  hours,
  psu,
  fraction,
  type Litres,
  type Millilitres,
  type Hours,
} from './units/quantity.ts'
export { UNITS, toCanonical, fromCanonical, type Dimension } from './units/units.ts'
export { parseNumber, typedNumber, parseQuantity } from './units/parse.ts'
export {
  DEFAULT_PREFERENCES,
  formatDose,
  formatDuration,
  formatNumber,
  formatQuantity,
  inSentence,
  preferredUnit,
  type UnitPreferences,
} from './units/format.ts'
export { lifeCycleOf, type LifeCycle } from './outbreak/lifeCycle.ts'
export { protocolLibrary, protocolOf, protocolServing } from './knowledge/library.ts'
export { inKeepersUnits } from './units/keepersUnits.ts'
export { seawaterDensity, specificGravity, salinityFromSpecificGravity } from './water/seawater.ts'
export {
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
  ammoniaBand,
  ammoniaPka,
  convertAmmonia,
  freeAmmoniaShare,
  freeFromTotal,
  freshAmmoniaPka,
  seaAmmoniaPka,
  totalFromFree,
  type AmmoniaForm,
} from './water/ammonia.ts'
export {
  alkalinityFromDkh,
  balanceWithAir,
  carbonFromPh,
  carbonSpecies,
  carbonateConstants,
  dkhFromAlkalinity,
  nbsOffset,
  phFromCarbon,
} from './water/carbonate.ts'
export { oxygenPercent, oxygenSaturation, oxygenSaturationUmolPerKg } from './water/oxygen.ts'
export { innerFootprint, type Shape } from './water/shapes.ts'
export {
  netVolume,
  checkVolumeInputs,
  rockDisplacement,
  sumpWater,
  volumeInputWord,
  type Measured,
  type VolumeInputs,
} from './water/netVolume.ts'
export { tracerVolume, freshWaterTracerVolume, combineVolumes } from './water/tracer.ts'
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
  type DripOptions,
  type Water,
} from './water/mixing.ts'
export { molarMass, speciesShare, alkalinitySaltMass } from './dosing/chemistry.ts'
export { activeContent, dilution, equivalentMl, type Strength } from './dosing/strength.ts'
export {
  doseFor,
  rampLevels,
  resultingLevel,
  resultOverVolumeDoubt,
  roundToStep,
  suggestedDilution,
  type Dose,
  type Measure,
} from './dosing/dose.ts'
export {
  levelCurve,
  hoursToFall,
  halfLifeHours,
  rateOfHalfLife,
  repeatDoseSteadyState,
  type LevelEvent,
  type LevelScenario,
  type RateInterval,
} from './level/curve.ts'
export {
  logPriorFromRange,
  lossPrior,
  INSTRUMENT_BIAS_SD,
  type LevelModel,
  type LevelReading,
  type UncertainEvent,
} from './level/model.ts'
export { normalCdf, normalQuantile } from './level/normal.ts'
export { levelPosterior } from './level/posterior.ts'
export { nextDose } from './level/nextDose.ts'
export { nextTest } from './level/nextTest.ts'
export { SimulatedTank, drawTruth, normalFrom, randomFrom } from './level/simulate.ts'
export { bandCredit, type CurveSegment } from './clock/crossings.ts'
export { therapeuticClock, clockDifference, type ClockInputs, type ClockRules } from './clock/therapeutic.ts'
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
} from './time/time.ts'
export type {
  ActiveLedger,
  Analyte,
  ArrivalBody,
  ArrivalDocument,
  BathEntry,
  Container,
  ContainerEntry,
  CourseBody,
  CourseDocument,
  DoseEntry,
  Entry,
  CalibrationEntry,
  DeviceBody,
  DeviceDocument,
  EquipmentEntry,
  InstrumentBody,
  FindingDocument,
  PlannedDocument,
  GearBody,
  GearDocument,
  InstrumentDocument,
  ProtocolDocument,
  KeeperRecord,
  PhotoEntry,
  ProductDocument,
  RecordFile,
  RegisterDocument,
  ResidentDocument,
  SampleBody,
  SampleDocument,
  Settings,
  VesselBody,
  VesselDocument,
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
export { MAX_FILE_BYTES, SCHEMA_VERSION, toFile } from './record/format.ts'
export { ANALYTES, analyteWord, parseLine, type LineDraft } from './record/typedLine.ts'
export {
  agentForm,
  agentForms,
  groupOf,
  groups,
  sensitivity,
  species,
  type AgentForm,
  type Group,
} from './knowledge/agents.ts'
export {
  protocolHash,
  type Condition as PhaseCondition,
  type Phase,
  type Protocol,
  type Rule,
  type RuleOf,
  type Value,
} from './knowledge/protocols.ts'
export { changedShare, dosedForms, kitOf, levelModelOf, pouredMass, vesselVolume } from './level/fromRecord.ts'
export {
  earningForecast,
  estimateCourse,
  readingInfluence,
  type ReadingInfluence,
  type CourseEstimate,
  type EarningForecast,
  type EstimateInputs,
} from './level/estimate.ts'
export { courseBand, courseInputs, doseWish, hoursToNextTest } from './protocols/courseInputs.ts'
export { conditionTime, courseContext, rotaOf, courseProgress, valueFor } from './protocols/progress.ts'
export { leastDays, plan, planCourse, type CoursePlan } from './protocols/plan.ts'
export { runningCourses } from './record/running.ts'
export type { Step } from './protocols/stepBuilder.ts'
export { settingValues } from './protocols/settingValues.ts'
export { actContext } from './acts/context.ts'
export { answer, commitAct, type Commit } from './acts/acts.ts'
export { mayPass, problemAnswer, spoken, verdictOf, OVERRIDE_LETTERS } from './acts/answer.ts'
export { checkProduct } from './acts/product.ts'
export { readStrength } from './dosing/readStrength.ts'
export { readPour } from './acts/amounts.ts'
export { apartUntil, riseWithin, waitsFor } from './acts/correction.ts'
export {
  armsOfPatches,
  MARK_MEASURES,
  markedPatches,
  markedPoints,
  OFF_FIELD,
  PATCH_BY_EYE,
  PATCH_COVER,
  type MarkedPatch,
  type MarkTool,
  type PatchArm,
} from './record/markedPatches.ts'
export { joinRecords, type Joined } from './record/join.ts'
export { PRACTISED } from './generated/practisedProtocols.ts'
export { inventoryOf, missingOf, wholeOf, type Inventory, type Missing } from './record/handover.ts'
export { conflictsOf, type FieldConflict } from './record/versions.ts'
export { copiesToThin, copyDue, type LastCopy } from './record/copies.ts'
export {
  entriesOfSitter,
  isSitterFile,
  readSitterFile,
  SITTER_FORMAT,
  SITTER_VERSION,
  type SitterCame,
} from './record/sitterFile.ts'
export { orphansOf, picturesToThin } from './record/pictures.ts'
export { campaignsCounting, campaignsCovering } from './outbreak/slideMeasures.ts'
export { correctionSet, correctionsFor, type CorrectionSet, type SetItem } from './outbreak/correctionSet.ts'
export { DROPS_PER_ML, doserState, dosersOf, stockRecipe } from './outbreak/dosers.ts'
export type { ActAnswer, Draft, EquipmentIntent, Intent, LevelPreview, Override } from './acts/types.ts'
export { gravest, gravity, type Refusal, type RefusalLevel, type Verdict } from './safety/refusal.ts'
export { ceilingAt, limitIn, mostInside, reached, type Room } from './safety/limits.ts'
export { bathLimit } from './safety/baths.ts'
export { holdsCopper, partiesIn } from './safety/water.ts'
export { levelsIn, type KnownLevel } from './safety/level.ts'
export { knownLevels } from './protocols/known.ts'
export { unsoundEntry, unsoundRegister, unsoundSettings, type Fault } from './record/sound.ts'
export { headsAt } from './record/heads.ts'
export { isForSitter, sitterPlan, type SitterPlan } from './protocols/sitter.ts'
export { sinceThen } from './record/since.ts'
export { residentsIn, residentVessels } from './record/whereabouts.ts'
export { methods, type Method } from './knowledge/methods.ts'
export { formGiven, formAmong, formInWater, usesOf } from './knowledge/uses.ts'
export { handlingHazards, hazardOf, hazards, type Hazard } from './knowledge/hazards.ts'
export { interactionOf, interactions } from './safety/interactions.ts'
export { protocolCalendar, type ProtocolCalendar } from './protocols/calendar.ts'
export { runningShort, stockOf } from './dosing/stock.ts'
export { warmWait } from './protocols/fallow.ts'
export { evaluate, type Given } from './protocols/expression.ts'
export { handlingOf, type Handling } from './protocols/handling.ts'
export {
  activeOf,
  advanceActive,
  besidesReadings,
  carryActive,
  entriesSince,
  entriesUntil,
} from './record/ledgerIndex.ts'
export { isInstant } from './record/sound.ts'
export { createPlanner, type CourseFault } from './protocols/planner.ts'
export { carriedInto, gearState } from './record/gear.ts'
export { defaultSettings } from './record/settings.ts'
export { concernsOf, type Concern } from './protocols/concerns.ts'
export {
  ammoniaAct,
  madeUpOf,
  changedEnough,
  ammoniaConcerns,
  ammoniaWatchOf,
  comparisonWords,
  type AmmoniaAct,
  type AmmoniaMethod,
  type AmmoniaWatch,
} from './protocols/ammoniaWatch.ts'
export { ammoniaOf, comparisonsOf, suspectInstruments, type Sitting } from './record/compared.ts'
export { coursePreview, type CoursePreview } from './protocols/preview.ts'
export {
  METHOD_IDS,
  acclimationKinds,
  inspectionOf,
  kindOf,
  transitOf,
  type Inspection,
  type MethodId,
} from './acclimation/kinds.ts'
export { runAcclimation, type Run, type RunAction, type RunInputs } from './acclimation/run.ts'
export {
  HORIZON_MIN,
  floatMinutes,
  floatStages,
  methodActions,
  settingsFor,
  waterToFinish,
  type MethodSettings,
} from './acclimation/methods.ts'
export {
  METHOD_WORDS,
  aspectSentence,
  compareMethods,
  oxygenDeficit,
  sampleSeries,
  type CompareInputs,
  type Comparison,
  type CurveId,
  type Equipment,
  type MethodResult,
  type Ranged,
  type TankInputs,
} from './acclimation/compare.ts'
export { largestChange } from './acclimation/change.ts'
export {
  dropsPerSecond,
  litresPerHourOfDrops,
  liveRun,
  pressedStep,
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
  containerInputs,
  homeSalinity,
  estimatedTan,
  liveInputsOf,
  tankInputs,
  transitHours,
} from './acclimation/arrival.ts'
export { checkArrival, checkContainer, checkMeasured } from './safety/arrivalChecks.ts'
export { DEFAULT_TARGET_PAR, lightStart } from './acclimation/light.ts'
export { newCourseBody } from './protocols/newCourse.ts'
export { median, theilSen } from './trends/theilSen.ts'
export {
  INTRODUCTION_PROTOCOLS,
  conflictState,
  introductionPlan,
  type IntroductionId,
} from './introductions/introduction.ts'
export { systemOf, systemsFor, usualPrecision, usualRange, type UsualRange } from './knowledge/ranges.ts'
export {
  THREATS,
  compareSchools,
  daysToRelease,
  variantFor,
  type SchoolColumn,
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
export { looksLeft, walkAspects, walkRank, watchOfDay } from './knowledge/watch.ts'
export {
  coralNow,
  coralStates,
  isPast,
  stateWords,
  walkDays,
  walkSums,
  WELL,
  type CoralState,
  type WalkSum,
} from './record/walk.ts'
export { lifeOf, standingOn, type Life, type LifeKind } from './record/life.ts'
export { digestOf } from './record/digest.ts'
export { endTogether, type TogetherItem } from './protocols/backwards.ts'
export { gatePieces, piecesAsked } from './protocols/pieces.ts'
export { airKindFor, airKindOf, airKinds } from './knowledge/air.ts'
export {
  airBudget,
  benchDrafts,
  benchNoted,
  benchPieces,
  benchRenamed,
  nextActs,
  stagesFor,
  type BenchPiece,
  type BenchPress,
  type BenchStage,
  type BenchTyped,
} from './protocols/bench.ts'
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
export { exitTicks } from './protocols/exitTicks.ts'
export { checkLaw, lawOf } from './safety/law.ts'
export {
  courseNeeds,
  PRODUCT_MARGIN,
  WATER_MARGIN,
  type CourseNeedsOptions,
  type ProductNeed,
} from './protocols/courseNeeds.ts'
export { warmDays, warmDaysIn } from './protocols/warmDays.ts'
export {
  POOLS,
  conditionOf,
  conditionTables,
  conditions,
  conditionsFor,
  conditionsOf,
  lintConditions,
  poolOf,
  signsFor,
  signsOf,
  tableOf,
  type Condition,
  type Pool,
} from './knowledge/conditions.ts'
export { contextEvidence, type Flow } from './diagnosis/context.ts'
export { testAnswers, testConcerns, testsOf, testState, testStep } from './diagnosis/timedTests.ts'
export { exposures, fearedIn, findingInput, likelyCourses } from './diagnosis/finding.ts'
export { diagnose, type Diagnosis, type DiagnosisInput } from './diagnosis/diagnose.ts'
export { nextLooks, type Look } from './diagnosis/nextLook.ts'
export {
  LEADS,
  MOST,
  notExcluded,
  rankConditions,
  type Answer,
  type Evidence,
  type Ranked,
  type Ranking,
  type Subject,
} from './diagnosis/rank.ts'
export { caseOutcome, caseProblems, type CaseFile } from './diagnosis/cases.ts'
export { CANNOT_TELL, moverShare, slideSigns, type SlideClass } from './diagnosis/slide.ts'
export { historyFlows, sharedTrouble, SPOTS } from './diagnosis/history.ts'
export { looksToSure, simulateDiagnosis } from './diagnosis/simulate.ts'
export {
  certainlyOver,
  chanceOver,
  eradication,
  inspectionsNeeded,
  mobilesOnly,
  planTreatments,
  type Eradication,
  type Founder,
  type LifeStages,
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
export { dailyNumbers, type DailyTreatment } from './lifecycle/daily.ts'
export { dailyStages, lastRoundDay, roundRule } from './outbreak/pests.ts'
export { readCounts, trendOf, type CountedRound } from './outbreak/counts.ts'
export {
  addedMeasure,
  measurePoints,
  measureValue,
  shareInterval,
  type Campaign,
  type Measure as CampaignMeasure,
  type TallyEntry,
} from './outbreak/measures.ts'
export { alkalinityUsers, type AlkalinityUser } from './outbreak/alkalinityUse.ts'
export { ofUnit } from './outbreak/ofUnit.ts'
export { chanceLarger, compareArms } from './outbreak/arms.ts'
export { jarVerdict, redose } from './outbreak/jar.ts'
export { removalForecast } from './outbreak/removal.ts'
export { darkForecast, type DarkReading } from './outbreak/darkForecast.ts'
export { livestockBack, type Waiting } from './outbreak/livestock.ts'
export { lostBetween } from './outbreak/headCount.ts'
export { animalGuards, limitValue, type AnimalGuard, type GuardState } from './outbreak/guards.ts'
export { causeChecklist, causes, type Cause, type CauseAnswer } from './outbreak/causes.ts'
export {
  campaignOf,
  campaignState,
  fights,
  type Answer as CampaignAnswer,
  type CampaignState,
  type Effort,
  type MeasureState,
} from './outbreak/campaign.ts'
export { changesTo, consumption, silicateDose, steer } from './outbreak/steering.ts'
export { correctionOf, corrections, saltGrams, type Salt } from './outbreak/corrections.ts'
export {
  stockPortion,
  saltWorking,
  portionsFor,
  secondResult,
  daysToCorrect,
  steerState,
  type SteerState,
} from './outbreak/steerState.ts'
export { campaignConcernsOf } from './protocols/campaignConcerns.ts'
export { type Held } from './protocols/held.ts'
export { checkedWords, waterConcerns } from './protocols/waterConcerns.ts'
export { limitOf } from './knowledge/limits.ts'
export { limits as limitTables } from './generated/knowledge/limits.ts'
export { minutesOf, mayLeaveOut, pressesOf } from './protocols/rules/registry.ts'
export type { Press, StepPage } from './protocols/rules/kind.ts'
export {
  ribbonDay,
  ribbonOf,
  type Ribbon,
  type RibbonMark,
  type RibbonMarkKind,
  type RibbonStretch,
} from './protocols/ribbon.ts'
export { dueStarts } from './protocols/dueStarts.ts'
export { homecoming, houseCalendar, wholeDays } from './protocols/houseCalendar.ts'
export type { CalendarBar, Homecoming, HouseCalendar } from './protocols/houseCalendar.ts'
export { AHEAD_DAYS, waterLines, type WaterLine } from './outbreak/waterLines.ts'
export { DRIFTED_Z, instrumentState, offsetAt, scatterOf, valueOf } from './record/instrumentState.ts'
export { instrumentConcerns, sampleConcerns } from './laboratory/concerns.ts'
export {
  at35,
  drawingSteps,
  elementOf,
  readingsOfReport,
  reportOf,
  stageOf,
  type Report,
  type ReportLine,
} from './laboratory/report.ts'
export { deviceAlarms, deviceAnalyte, doserProof, hoursOf, type MinuteRow } from './devices/watch.ts'
