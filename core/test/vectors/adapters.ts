// Reference vectors against core: adapters only rename fields; every computation is the application's own export.
import {
  activeContent,
  afterChanges,
  afterContinuousChange,
  alkalinityFromDkh,
  alkalinitySaltMass,
  balanceWithAir,
  bandCredit,
  carbonFromPh,
  carbonSpecies,
  carbonateConstants,
  changesToTarget,
  changesWithProduction,
  conductivityFromSalinity,
  continuousVolumesFor,
  convertAmmonia,
  dilution,
  dkhFromAlkalinity,
  doseFor,
  freeAmmoniaShare,
  freshAmmoniaPka,
  freshWaterShareForGravity,
  freshWaterTracerVolume,
  growingHoursWithin,
  growingLevel,
  growingTemperature,
  grownVolume,
  halfLifeHours,
  hoursToFall,
  hydrometerReading,
  levelCurve,
  litres,
  mgPerL,
  mixByMass,
  mixByVolume,
  netVolume,
  overflowHoursWithin,
  overflowLevel,
  overflowTemperature,
  oxygenPercent,
  oxygenSaturation,
  oxygenSaturationUmolPerKg,
  phFromCarbon,
  repeatDoseSteadyState,
  residualFraction,
  resultingLevel,
  rockDisplacement,
  salinityFromConductivity,
  salinityFromRatio,
  salinityFromSpecificGravity,
  scoopStates,
  seaAmmoniaPka,
  seawaterDensity,
  speciesShare,
  specificGravity,
  sumpWater,
  tracerVolume,
  certainlyOver,
  chanceOver,
  eradication,
  inspectionsNeeded,
  killedBeforeEnd,
  maxFlowForDose,
  mobilesOnly,
  passKill,
  swimmers,
  treatedShare,
  ultravioletDose,
  type AmmoniaForm,
  type LifeStages,
  type CurveSegment,
  type DripOptions,
  type LevelEvent,
  type RateInterval,
  type Shape,
} from '@brinvo/core'

export type Inputs = Record<string, number | string | boolean | null | unknown[]>
export type Adapter = (inputs: Inputs) => Record<string, unknown>

const num = (inputs: Inputs, key: string): number => {
  const value = inputs[key]
  if (typeof value !== 'number') throw new Error(`input ${key} is not a number`)
  return value
}
const list = <T>(inputs: Inputs, key: string): T[] => {
  const value = inputs[key]
  if (!Array.isArray(value)) throw new Error(`input ${key} is not a list`)
  return value as T[]
}
const exact = (value: number) => ({ value, sd: 0 })

function volumeOf(shape: (v: Inputs) => Shape): Adapter {
  return (v) => {
    const result = netVolume({
      shape: shape(v),
      glassCm: exact(num(v, 'glass_mm') / 10),
      bottomGlassCm: exact(num(v, 'bottom_glass_mm') / 10),
      fillGapCm: exact(num(v, 'fill_gap_cm')),
      substrateDepthCm: exact(num(v, 'substrate_depth_cm')),
      substratePorosity: exact(num(v, 'substrate_porosity')),
      rockMassKg: exact(num(v, 'rock_mass_kg')),
      rockDensityKgPerL: exact(num(v, 'rock_density_kg_per_l')),
      rockPorosity: exact(num(v, 'rock_porosity')),
      equipmentL: exact(num(v, 'equipment_displacement_l')),
      sumpL: exact(num(v, 'sump_water_l')),
      plumbingL: exact(num(v, 'plumbing_water_l')),
      dimensionSdCm: 0,
    })
    if (!result.ok) throw new Error(result.error.map(({ message }) => message).join(' '))
    const { value } = result
    return {
      inner_footprint_cm2: value.innerFootprintCm2,
      rim_full_l: value.rimFullL,
      water_column_l: value.waterColumnL,
      substrate_displacement_l: value.substrateL,
      rock_displacement_l: value.rockL,
      net_volume_l: value.litres,
    }
  }
}
const bowFront = volumeOf((v) => ({
  kind: 'bow-front',
  lengthCm: num(v, 'outer_length_cm'),
  sideDepthCm: num(v, 'outer_side_depth_cm'),
  centreDepthCm: num(v, 'outer_center_depth_cm'),
  heightCm: num(v, 'outer_height_cm'),
}))

const drip = (v: Inputs, volumeKey: string): DripOptions => ({
  startVolumeL: num(v, volumeKey),
  inflowLPerH: num(v, 'inflow_l_per_h'),
  startTempC: num(v, 'start_temp_c'),
  inflowTempC: num(v, 'inflow_temp_c'),
  roomTempC: typeof v.ambient_temp_c === 'number' ? v.ambient_temp_c : 0,
  heat:
    v.heat_model === 'rate_constant'
      ? { kind: 'rate-constant', perHour: num(v, 'heat_rate_per_h') }
      : v.heat_model === 'ua_constant'
        ? { kind: 'conductance', litresPerHour: num(v, 'heat_conductance_l_per_h') }
        : { kind: 'none' },
})
const startRate = (v: Inputs, volumeKey: string) =>
  (num(v, 'inflow_l_per_h') * (num(v, 'inflow_salinity_psu') - num(v, 'start_salinity_psu'))) / num(v, volumeKey)
const waters = (v: Inputs) =>
  [1, 2].map((i) => ({
    volumeL: num(v, `volume_${i}_l`),
    salinityPsu: num(v, `salinity_${i}_psu`),
    tempC: num(v, `temp_${i}_c`),
  })) as [
    { volumeL: number; salinityPsu: number; tempC: number },
    { volumeL: number; salinityPsu: number; tempC: number },
  ]

const contentOf = (strength: Parameters<typeof activeContent>[0]): number => {
  const result = activeContent(strength)
  if (!result.ok) throw new Error(result.error.message)
  return result.value.mg
}
const unroundedDose = (
  volumeL: number,
  target: number,
  mg: number,
  current = 0,
): { amount: number; massMg: number } => {
  const dose = doseFor({
    volumeL: litres(volumeL),
    currentMgPerL: mgPerL(current),
    targetMgPerL: mgPerL(target),
    content: { mg, per: 'mL' },
  })
  if (!dose.ok) throw new Error(dose.error.message)
  return { amount: dose.value.unroundedAmount, massMg: dose.value.massMg }
}

const freeOf = (v: Inputs, pka: number) => {
  const share = freeAmmoniaShare(pka, num(v, 'ph'))
  const free = num(v, 'tan_mg_n_per_l') * share
  return { pka, nh3_fraction: share, nh3_n_mg_per_l: free, nh3_mg_per_l: convertAmmonia(free, 'nh3_n', 'nh3') }
}
const seaPka = (v: Inputs) => seaAmmoniaPka(num(v, 'temp_c'), num(v, 'salinity_psu'))
const seaShare = (v: Inputs) => freeAmmoniaShare(seaPka(v), num(v, 'ph'))

const constantsOf = (v: Inputs) => carbonateConstants(num(v, 'salinity_psu'), num(v, 'temp_c'))
const speciesOf = (v: Inputs, dic: number, ph: number) => {
  const { co2, hco3, co3, fco2, pco2 } = carbonSpecies(constantsOf(v), dic, ph, num(v, 'temp_c'))
  return {
    co2_umol_per_kg: co2,
    hco3_umol_per_kg: hco3,
    co3_umol_per_kg: co3,
    fco2_uatm: fco2,
    pco2_uatm: pco2,
  }
}
const dkhOf = (v: Inputs) =>
  alkalinityFromDkh(num(v, 'dkh'), num(v, 'salinity_psu'), num(v, 'temp_c'), num(v, 'meq_per_l_per_dkh'))

/** Topic, kind, adapter. */
export const ADAPTERS: Record<string, Record<string, Adapter>> = {
  volume: {
    rectangular: volumeOf((v) => ({
      kind: 'box',
      lengthCm: num(v, 'outer_length_cm'),
      widthCm: num(v, 'outer_width_cm'),
      heightCm: num(v, 'outer_height_cm'),
    })),
    cylinder: volumeOf((v) => ({
      kind: 'cylinder',
      diameterCm: num(v, 'outer_diameter_cm'),
      heightCm: num(v, 'outer_height_cm'),
    })),
    hexagonal: volumeOf((v) => ({
      kind: 'hexagon',
      sideCm: num(v, 'outer_side_cm'),
      heightCm: num(v, 'outer_height_cm'),
    })),
    bow_front_inner: bowFront,
    bow_front_glass: bowFront,
    sump: (v) => ({
      sump_water_l: sumpWater(
        num(v, 'inner_length_cm'),
        num(v, 'inner_width_cm'),
        num(v, 'operating_water_height_cm'),
        num(v, 'equipment_displacement_l'),
      ),
    }),
    rock_displacement: (v) => ({
      displacement_l: rockDisplacement(
        num(v, 'rock_mass_kg'),
        num(v, 'rock_density_kg_per_l'),
        num(v, 'rock_porosity'),
      ),
    }),
    tracer: (v) => {
      const { value, sd } = tracerVolume({
        addedMassMg: num(v, 'added_mass_mg'),
        beforeMgPerL: { value: num(v, 'conc_before_mg_per_l'), sd: num(v, 'sd_before_mg_per_l') },
        afterMgPerL: { value: num(v, 'conc_after_mg_per_l'), sd: num(v, 'sd_after_mg_per_l') },
        addedSolutionMl: num(v, 'added_solution_ml'),
      })
      return { volume_l: value, sd_volume_l: sd }
    },
    tracer_fresh_water: (v) => ({
      volume_before_l: freshWaterTracerVolume(
        num(v, 'fresh_water_added_l'),
        num(v, 'salinity_before_psu'),
        num(v, 'salinity_after_psu'),
      ),
    }),
  },
  density: {
    density: (v) => ({ density_kg_per_m3: seawaterDensity(num(v, 'salinity_psu'), num(v, 'temp_c')) }),
    specific_gravity: (v) => ({
      specific_gravity: specificGravity(num(v, 'salinity_psu'), num(v, 'temp_c'), num(v, 'ref_temp_c')),
    }),
    hydrometer_reading: (v) => ({
      reading: hydrometerReading(num(v, 'salinity_psu'), num(v, 'sample_temp_c'), num(v, 'calibration_temp_c')),
      sg_at_sample_temp_over_water_same_temp: specificGravity(
        num(v, 'salinity_psu'),
        num(v, 'sample_temp_c'),
        num(v, 'sample_temp_c'),
      ),
    }),
  },
  salinity: {
    salinity_from_sg: (v) => ({
      salinity_psu: salinityFromSpecificGravity(num(v, 'specific_gravity'), num(v, 'temp_c'), num(v, 'ref_temp_c')),
    }),
    pss78_ratio: (v) => ({ salinity_psu: salinityFromRatio(num(v, 'conductivity_ratio'), num(v, 'temp_c')) }),
    pss78_conductivity: (v) => ({
      salinity_psu: salinityFromConductivity(
        num(v, 'conductivity_ms_per_cm'),
        num(v, 'temp_c'),
        num(v, 'c_35_15_0_ms_per_cm'),
      ),
    }),
    conductivity_from_salinity: (v) => ({
      conductivity_ms_per_cm: conductivityFromSalinity(
        num(v, 'salinity_psu'),
        num(v, 'temp_c'),
        num(v, 'c_35_15_0_ms_per_cm'),
      ),
    }),
  },
  ammonia: {
    published_table_freshwater: (v) => ({
      nh3_percent: 100 * freeAmmoniaShare(freshAmmoniaPka(num(v, 'temp_c')), num(v, 'ph')),
    }),
    freshwater: (v) => freeOf(v, freshAmmoniaPka(num(v, 'temp_c'))),
    seawater: (v) => freeOf(v, seaPka(v)),
    tan_limit_seawater: (v) => ({ tan_limit_mg_n_per_l: num(v, 'nh3_n_limit_mg_per_l') / seaShare(v) }),
    tan_from_free_seawater: (v) => ({ tan_mg_n_per_l: num(v, 'nh3_n_mg_per_l') / seaShare(v) }),
    unit_conversion: (v) => ({
      value_mg_per_l: convertAmmonia(num(v, 'value_mg_per_l'), v.from as AmmoniaForm, v.to as AmmoniaForm),
    }),
  },
  carbonate: {
    constants: (v) => {
      const k = constantsOf(v)
      return {
        ln_k0: Math.log(k.k0),
        log10_k1: Math.log10(k.k1),
        log10_k2: Math.log10(k.k2),
        ln_kb: Math.log(k.kb),
        ln_kw: Math.log(k.kw),
        total_boron_umol_per_kg: k.totalBoron,
      }
    },
    ph_from_ta_dic: (v) => {
      const dic = num(v, 'dic_umol_per_kg')
      const ph = phFromCarbon(constantsOf(v), num(v, 'ta_umol_per_kg'), dic)
      return { ph_total: ph, ...speciesOf(v, dic, ph) }
    },
    dic_from_ta_ph: (v) => {
      const dic = carbonFromPh(constantsOf(v), num(v, 'ta_umol_per_kg'), num(v, 'ph_total'))
      return { dic_umol_per_kg: dic, ...speciesOf(v, dic, num(v, 'ph_total')) }
    },
    ph_from_ta_pco2: (v) => {
      const { ph, dic } = balanceWithAir(
        constantsOf(v),
        num(v, 'ta_umol_per_kg'),
        num(v, 'pco2_uatm'),
        num(v, 'temp_c'),
      )
      return { ph_total: ph, dic_umol_per_kg: dic, ...speciesOf(v, dic, ph) }
    },
    bag_opened: (v) => {
      const k = constantsOf(v)
      const ta = num(v, 'ta_umol_per_kg')
      const after = balanceWithAir(k, ta, num(v, 'pco2_after_uatm'), num(v, 'temp_c'))
      const free = (ph: number) =>
        num(v, 'tan_mg_n_per_l') * freeAmmoniaShare(seaPka(v), ph + num(v, 'ph_nbs_minus_ph_total'))
      return {
        dic_before_umol_per_kg: carbonFromPh(k, ta, num(v, 'bag_ph_total')),
        dic_after_umol_per_kg: after.dic,
        ph_total_after: after.ph,
        nh3_n_before_mg_per_l: free(num(v, 'bag_ph_total')),
        nh3_n_after_mg_per_l: free(after.ph),
      }
    },
    dkh_to_umol_per_kg: (v) => ({
      alkalinity_meq_per_l: num(v, 'dkh') * num(v, 'meq_per_l_per_dkh'),
      ta_umol_per_kg: dkhOf(v),
    }),
    umol_per_kg_to_dkh: (v) => ({
      dkh: dkhFromAlkalinity(
        num(v, 'ta_umol_per_kg'),
        num(v, 'salinity_psu'),
        num(v, 'temp_c'),
        num(v, 'meq_per_l_per_dkh'),
      ),
    }),
    dic_from_dkh_ph: (v) => {
      const dic = carbonFromPh(constantsOf(v), dkhOf(v), num(v, 'ph_total'))
      return { dic_umol_per_kg: dic, ...speciesOf(v, dic, num(v, 'ph_total')) }
    },
  },
  oxygen: {
    saturation_umol_per_kg: (v) => ({
      o2_umol_per_kg: oxygenSaturationUmolPerKg(num(v, 'temp_c'), num(v, 'salinity_psu')),
    }),
    saturation: (v) => ({
      o2_umol_per_kg: oxygenSaturationUmolPerKg(num(v, 'temp_c'), num(v, 'salinity_psu')),
      o2_mg_per_l: oxygenSaturation(num(v, 'temp_c'), num(v, 'salinity_psu')),
    }),
    published_table_freshwater: (v) => ({
      o2_mg_per_l: oxygenSaturation(num(v, 'temp_c'), num(v, 'salinity_psu')),
    }),
    percent_saturation: (v) => ({
      percent: oxygenPercent(num(v, 'o2_mg_per_l'), num(v, 'temp_c'), num(v, 'salinity_psu')),
    }),
  },
  mixing: {
    drip_growing: (v) => {
      const options = drip(v, 'start_volume_l')
      const times = list<number>(v, 'times_h')
      return {
        volume_l: times.map((t) => grownVolume(options, t)),
        salinity_psu: times.map((t) =>
          growingLevel(options, num(v, 'start_salinity_psu'), num(v, 'inflow_salinity_psu'), t),
        ),
        temp_c: times.map((t) => growingTemperature(options, t)),
        tracer_mg_per_l: times.map((t) =>
          growingLevel(options, num(v, 'start_tracer_mg_per_l'), num(v, 'inflow_tracer_mg_per_l'), t),
        ),
        initial_salinity_rate_psu_per_h: startRate(v, 'start_volume_l'),
        hours_until_within_0_5_psu: growingHoursWithin(
          options,
          num(v, 'start_salinity_psu'),
          num(v, 'inflow_salinity_psu'),
          0.5,
        ),
      }
    },
    drip_overflow: (v) => {
      const options = drip(v, 'volume_l')
      const times = list<number>(v, 'times_h')
      return {
        salinity_psu: times.map((t) =>
          overflowLevel(options, num(v, 'start_salinity_psu'), num(v, 'inflow_salinity_psu'), t),
        ),
        temp_c: times.map((t) => overflowTemperature(options, t)),
        tracer_mg_per_l: times.map((t) =>
          overflowLevel(options, num(v, 'start_tracer_mg_per_l'), num(v, 'inflow_tracer_mg_per_l'), t),
        ),
        discarded_l: times.map((t) => options.inflowLPerH * t),
        initial_salinity_rate_psu_per_h: startRate(v, 'volume_l'),
        hours_until_within_0_5_psu: overflowHoursWithin(
          options,
          num(v, 'start_salinity_psu'),
          num(v, 'inflow_salinity_psu'),
          0.5,
        ),
      }
    },
    scoops: (v) => {
      const states = scoopStates({
        start: {
          volumeL: num(v, 'start_volume_l'),
          salinityPsu: num(v, 'start_salinity_psu'),
          tempC: num(v, 'start_temp_c'),
          tracerMgPerL: num(v, 'start_tracer_mg_per_l'),
        },
        scoop: {
          litres: num(v, 'scoop_l'),
          salinityPsu: num(v, 'scoop_salinity_psu'),
          tempC: num(v, 'scoop_temp_c'),
          tracerMgPerL: num(v, 'scoop_tracer_mg_per_l'),
        },
        discardL: num(v, 'discard_l'),
        capL: num(v, 'cap_l'),
        scoops: num(v, 'scoops'),
        intervalHours: num(v, 'interval_h'),
        roomTempC: num(v, 'ambient_temp_c'),
        heatPerHour: num(v, 'heat_rate_per_h'),
      })
      return {
        volume_l: states.map((s) => s.volumeL),
        salinity_psu: states.map((s) => s.salinityPsu),
        temp_c: states.map((s) => s.tempC),
        tracer_mg_per_l: states.map((s) => s.tracerMgPerL),
      }
    },
    mix_two_volume_basis: (v) => {
      const mixed = mixByVolume(...waters(v))
      return { salinity_psu: mixed.salinityPsu, temp_c: mixed.tempC }
    },
    mix_two_mass_basis: (v) => ({ salinity_psu: mixByMass(...waters(v)) }),
    water_changes: (v) => {
      const start = num(v, 'start_mg_per_l')
      const fresh = num(v, 'replacement_mg_per_l')
      const f = num(v, 'fraction')
      const n = num(v, 'changes')
      const residual = residualFraction(f, n)
      return {
        residual_fraction_of_excess: residual,
        conc_mg_per_l: afterChanges(start, f, fresh, n),
        batch_volumes_used: f * n,
        continuous_volumes_for_same_result: continuousVolumesFor(residual),
        continuous_conc_with_same_water_mg_per_l: afterContinuousChange(start, fresh, f * n, 1, 1),
      }
    },
    changes_to_target: (v) => {
      const result = changesToTarget(
        num(v, 'start_mg_per_l'),
        num(v, 'replacement_mg_per_l'),
        num(v, 'fraction'),
        num(v, 'target_max_mg_per_l'),
      )
      if (!result.ok) return { reachable: false, changes: null, conc_mg_per_l: null, continuous_volumes: null }
      return {
        reachable: true,
        changes: result.value.changes,
        conc_mg_per_l: result.value.mgPerL,
        continuous_volumes: result.value.continuousVolumes,
      }
    },
    continuous_change: (v) => {
      const at = (start: number, inflow: number) =>
        afterContinuousChange(start, inflow, num(v, 'exchange_l_per_h'), num(v, 'volume_l'), num(v, 'hours'))
      return {
        conc_mg_per_l: at(num(v, 'start_mg_per_l'), num(v, 'inflow_mg_per_l')),
        equivalent_single_change_fraction: 1 - at(1, 0),
      }
    },
    changes_with_production: (v) => {
      const result = changesWithProduction(
        num(v, 'start_mg_per_l'),
        num(v, 'replacement_mg_per_l'),
        num(v, 'fraction'),
        num(v, 'production_per_interval_mg_per_l'),
        num(v, 'changes'),
      )
      return {
        conc_after_last_change_mg_per_l: result.afterLast,
        steady_after_change_mg_per_l: result.steadyAfter,
        steady_before_change_mg_per_l: result.steadyBefore,
      }
    },
    fresh_water_fraction_for_sg: (v) => {
      const result = freshWaterShareForGravity(
        num(v, 'start_salinity_psu'),
        num(v, 'target_sg'),
        num(v, 'temp_c'),
        num(v, 'ref_temp_c'),
      )
      return {
        target_salinity_psu: result.targetPsu,
        fraction_volume_basis: result.byVolume,
        fraction_mass_basis: result.byMass,
      }
    },
  },
  level: {
    scenario: (v) => {
      type RawEvent = {
        t_h: number
        type: string
        mass_mg: number
        fraction: number
        replacement_mg_per_l: number
        topoff_mg_per_l: number
      }
      type RawInterval = { from_h: number; to_h: number; k1_per_h?: number; k2_per_h?: number }
      const losses = [...list<RawInterval>(v, 'loss_intervals'), ...list<RawInterval>(v, 'carbon_intervals')].map(
        (raw): RateInterval => ({ fromH: raw.from_h, toH: raw.to_h, perHour: raw.k1_per_h ?? raw.k2_per_h ?? 0 }),
      )
      const events = list<RawEvent>(v, 'events').map((raw): LevelEvent => {
        if (raw.type === 'dose') return { kind: 'dose', tH: raw.t_h, massMg: raw.mass_mg }
        if (raw.type === 'change') {
          return { kind: 'change', tH: raw.t_h, fraction: raw.fraction, replacementMgPerL: raw.replacement_mg_per_l }
        }
        if (raw.type === 'topoff') {
          return { kind: 'topoff', tH: raw.t_h, toVolumeL: num(v, 'nominal_volume_l'), mgPerL: raw.topoff_mg_per_l }
        }
        throw new Error(`unknown event type ${raw.type}`)
      })
      const points = levelCurve(
        {
          volumeL: num(v, 'initial_volume_l'),
          mgPerL: num(v, 'initial_mg_per_l'),
          evaporationLPerH: num(v, 'evaporation_l_per_h'),
          losses,
          events,
        },
        list<number>(v, 'sample_times_h'),
      )
      return { conc_mg_per_l: points.map((p) => p.mgPerL), volume_l: points.map((p) => p.volumeL) }
    },
    dose_to_target: (v) => ({
      mass_mg: unroundedDose(num(v, 'volume_l'), num(v, 'target_mg_per_l'), 1, num(v, 'conc_mg_per_l')).massMg,
    }),
    time_to_fall: (v) => ({
      hours: hoursToFall(num(v, 'start_mg_per_l'), num(v, 'end_mg_per_l'), num(v, 'k_per_h')),
      half_life_h: halfLifeHours(num(v, 'k_per_h')),
    }),
    repeat_dose_steady_state: (v) => {
      const { peakMgPerL, troughMgPerL } = repeatDoseSteadyState(
        num(v, 'mass_mg'),
        num(v, 'volume_l'),
        num(v, 'k_per_h'),
        num(v, 'interval_h'),
      )
      return { peak_mg_per_l: peakMgPerL, trough_mg_per_l: troughMgPerL }
    },
  },
  clock: {
    curve: (v) => {
      type Raw = {
        from_h: number
        to_h: number
        shape: 'linear' | 'exponential'
        start_mg_per_l: number
        end_mg_per_l: number
      }
      const segments = list<Raw>(v, 'segments').map((raw): CurveSegment => ({
        fromH: raw.from_h,
        toH: raw.to_h,
        shape: raw.shape,
        startMgPerL: raw.start_mg_per_l,
        endMgPerL: raw.end_mg_per_l,
      }))
      const credit = bandCredit(
        segments,
        num(v, 'lo_mg_per_l'),
        num(v, 'hi_mg_per_l'),
        num(v, 'required_h'),
        v.above_hi_counts === true,
      )
      return {
        crossings: credit.crossings.map(({ tH, level, direction }) => ({ t_h: tH, level, direction })),
        hours_in_band: credit.hoursInBand,
        hours_below_lo: credit.hoursBelow,
        hours_above_hi: credit.hoursAbove,
        above_hi_flagged: credit.aboveFlagged,
        pause_credit_h: credit.pauseCreditH,
        strict_credit_h: credit.strictCreditH,
        strict_resets: credit.strictResets,
        pause_complete_at_h: credit.pauseCompleteAtH,
        strict_complete_at_h: credit.strictCompleteAtH,
      }
    },
    exponential_crossing: (v) => ({
      t_h: hoursToFall(num(v, 'start_mg_per_l'), num(v, 'level_mg_per_l'), num(v, 'k_per_h')),
    }),
  },
  strength: {
    dilution: (v) => {
      const result = dilution(num(v, 'stock_percent_wv'), num(v, 'target_percent_wv'), num(v, 'final_volume_ml'))
      if (!result.ok) throw new Error(result.error.kind)
      return { stock_volume_ml: result.value.stockMl, diluent_volume_ml: result.value.diluentMl }
    },
    peroxide_wv: (v) => {
      const mg = contentOf({ basis: 'w/v', percent: num(v, 'peroxide_percent_wv') })
      const ml = num(v, 'added_ml')
      const litresOfWater = num(v, 'water_volume_l')
      return {
        added_mass_mg: mg * ml,
        conc_mg_per_l_water_volume_only: resultingLevel(0, ml, mg, litresOfWater),
        conc_mg_per_l_final_volume: resultingLevel(0, ml, mg, litresOfWater + ml / 1000),
      }
    },
    peroxide_dose: (v) => {
      const mg = contentOf({ basis: 'w/v', percent: num(v, 'peroxide_percent_wv') })
      const target = num(v, 'target_mg_per_l')
      return {
        dose_ml: unroundedDose(num(v, 'water_volume_l'), target, mg).amount,
        dose_ml_counting_added_volume: unroundedDose(num(v, 'water_volume_l'), target, mg - target / 1000).amount,
      }
    },
    formalin: (v) => {
      const mg = contentOf({
        basis: 'w/w',
        percent: num(v, 'formaldehyde_percent_ww'),
        densityGPerMl: num(v, 'density_g_per_ml'),
      })
      return {
        formaldehyde_mg_per_ml_product: mg,
        formaldehyde_mg_per_l: resultingLevel(0, num(v, 'formalin_ml'), mg, num(v, 'water_volume_l')),
        formalin_ppm_vv: resultingLevel(0, num(v, 'formalin_ml'), 1000, num(v, 'water_volume_l')),
      }
    },
    formalin_dose: (v) => {
      const mg = contentOf({
        basis: 'w/w',
        percent: num(v, 'formaldehyde_percent_ww'),
        densityGPerMl: num(v, 'density_g_per_ml'),
      })
      const ml = unroundedDose(num(v, 'water_volume_l'), num(v, 'target_formalin_ppm_vv'), 1000).amount
      return { formalin_ml: ml, formaldehyde_mg_per_l: resultingLevel(0, ml, mg, num(v, 'water_volume_l')) }
    },
    stock: (v) => {
      const mg = contentOf({ basis: 'w/v', percent: (num(v, 'solute_g') / num(v, 'solution_ml')) * 100 })
      return {
        stock_mg_per_ml: mg,
        dose_mass_mg: mg * num(v, 'dose_ml'),
        conc_rise_mg_per_l: resultingLevel(0, num(v, 'dose_ml'), mg, num(v, 'water_volume_l')),
      }
    },
    mass_fraction: (v) => {
      const share = speciesShare(String(v.salt), String(v.species))
      return {
        salt_molar_mass_g_per_mol: share.saltGPerMol,
        species_molar_mass_g_per_mol: share.speciesGPerMol,
        mass_fraction: share.massFraction,
      }
    },
    salt_dose: (v) => {
      const salt = String(v.salt)
      const species = String(v.species)
      const stock = contentOf({
        basis: 'salt-stock',
        salt,
        species,
        saltGrams: num(v, 'stock_salt_g'),
        madeUpToMl: num(v, 'stock_solution_ml'),
      })
      const target = num(v, 'target_rise_mg_per_l')
      const volume = num(v, 'water_volume_l')
      return {
        salt_mass_g: unroundedDose(volume, target, 1000 * speciesShare(salt, species).massFraction).amount,
        stock_species_mg_per_ml: stock,
        stock_dose_ml: unroundedDose(volume, target, stock).amount,
      }
    },
    alkalinity_dose: (v) => {
      const mass = alkalinitySaltMass(
        String(v.salt),
        num(v, 'dkh_rise'),
        num(v, 'water_volume_l'),
        num(v, 'meq_per_l_per_dkh'),
      )
      return { salt_mass_g: mass, dkh_litres_per_gram: (num(v, 'dkh_rise') * num(v, 'water_volume_l')) / mass }
    },
  },
  lifecycle: {
    scenario: (v) => {
      const { pExtinct, expectedMobiles, expectedEggs } = eradication(
        stagesOf(v),
        {
          timesH: v.treatment_times_h as number[],
          killMobile: num(v, 'kill_mobile'),
          killEgg: num(v, 'kill_egg'),
        },
        (v.initial as { stage: string; hatched_at_h?: number; laid_at_h?: number; count: number }[]).map((one) =>
          one.stage === 'mobile'
            ? { stage: 'mobile', hatchedAtH: one.hatched_at_h!, count: one.count }
            : { stage: 'egg', laidAtH: one.laid_at_h!, count: one.count },
        ),
        num(v, 'horizon_h'),
      )
      return { p_extinct: pExtinct, expected_mobiles: expectedMobiles, expected_eggs: expectedEggs }
    },
    closed_form_mobiles_only: (v) => {
      const { pExtinct, expectedMobiles } = mobilesOnly(
        num(v, 'kill_mobile'),
        num(v, 'treatments'),
        num(v, 'initial_mobiles'),
      )
      return { p_extinct: pExtinct, expected_mobiles: expectedMobiles }
    },
    closed_form_eggs_only: (v) => eggsOnly(v, v.treatment_times_h as number[]),
    closed_form_last_treatment_too_early: (v) => eggsOnly(v, [num(v, 'last_treatment_h')]),
    certain_extinction_rule: (v) => ({
      rule_holds: certainlyOver(
        { ...stagesOf(v), eggsPerClutch: 1, clutchIntervalH: 24 },
        24 * num(v, 'treatment_interval_days'),
        num(v, 'treatments'),
      ),
    }),
    stop_rule: (v) => ({
      p_none_left: chanceOver(
        num(v, 'prior_mean_survivors'),
        num(v, 'detection_probability'),
        num(v, 'clean_inspections'),
        v.detection_unit === 'per_animal' ? 'per-animal' : 'per-inspection',
      ),
    }),
    inspections_needed: (v) => {
      const needed = (unit: 'per-animal' | 'per-inspection') =>
        inspectionsNeeded(num(v, 'prior_mean_survivors'), num(v, 'detection_probability'), num(v, 'confidence'), unit)
      return { per_animal: needed('per-animal'), per_inspection: needed('per-inspection') }
    },
  },
  uv: {
    dose: (v) => {
      const { residenceS, doseMjPerCm2, turnoversPerH } = ultravioletDose({
        irradianceMwPerCm2: num(v, 'average_irradiance_mw_per_cm2'),
        chamberL: num(v, 'chamber_volume_l'),
        flowLPerH: num(v, 'flow_l_per_h'),
        tankL: num(v, 'tank_volume_l'),
      })
      return { residence_time_s: residenceS, dose_mj_per_cm2: doseMjPerCm2, turnovers_per_h: turnoversPerH }
    },
    max_flow_for_dose: (v) => ({
      flow_l_per_h: maxFlowForDose(
        num(v, 'average_irradiance_mw_per_cm2'),
        num(v, 'chamber_volume_l'),
        num(v, 'target_dose_mj_per_cm2'),
      ),
    }),
    pass_efficiency: (v) => {
      const { log10, killed } = passKill(num(v, 'dose_mj_per_cm2'), num(v, 'dose_per_log10_mj_per_cm2'))
      return { log10_reduction: log10, killed_fraction_per_pass: killed }
    },
    treated_fraction: (v) => {
      const { share, meanPasses, hoursTo95, hoursTo99 } = treatedShare(
        num(v, 'flow_l_per_h'),
        num(v, 'tank_volume_l'),
        num(v, 'hours'),
      )
      return {
        fraction_passed_at_least_once: share,
        mean_passes: meanPasses,
        hours_to_95_percent: hoursTo95,
        hours_to_99_percent: hoursTo99,
      }
    },
    suspended_equilibrium: (v) => {
      const found = swimmers({
        flowLPerH: num(v, 'flow_l_per_h'),
        tankL: num(v, 'tank_volume_l'),
        killedPerPass: num(v, 'killed_fraction_per_pass'),
        releasePerH: num(v, 'release_per_h'),
        otherLossPerH: num(v, 'other_loss_per_h'),
        startCount: num(v, 'start_count'),
        hours: num(v, 'hours'),
      })
      return {
        uv_removal_per_h: found.uvPerH,
        equilibrium_count: found.equilibrium,
        count_at_time: found.atTime,
        equilibrium_without_uv: found.withoutUv,
        fraction_of_no_uv_equilibrium: found.shareOfWithout,
        fraction_ending_in_uv: found.shareEndingInUv,
      }
    },
    killed_before_life_ends: (v) => ({
      fraction_killed: killedBeforeEnd(
        num(v, 'flow_l_per_h'),
        num(v, 'tank_volume_l'),
        num(v, 'killed_fraction_per_pass'),
        num(v, 'free_life_h'),
      ),
    }),
  },
}

function stagesOf(v: Inputs): LifeStages {
  const maturation = v.maturation_days as number | null | undefined
  return {
    hatchMinH: num(v, 'hatch_min_h'),
    hatchMaxH: num(v, 'hatch_max_h'),
    maturationH: maturation === null || maturation === undefined ? null : 24 * maturation,
    eggsPerClutch: typeof v.eggs_per_clutch === 'number' ? v.eggs_per_clutch : 0,
    clutchIntervalH: 24 * (typeof v.clutch_interval_days === 'number' ? v.clutch_interval_days : 0),
  }
}
/** Eggs laid at hour 0 that never lay: gone when the horizon lies after the last hatch. */
function eggsOnly(v: Inputs, timesH: readonly number[]): Record<string, unknown> {
  const count = num(v, 'initial_eggs_laid_at_0')
  const stages = stagesOf(v)
  const { pExtinct, expectedMobiles } = eradication(
    stages,
    { timesH, killMobile: num(v, 'kill_mobile'), killEgg: num(v, 'kill_egg') },
    [{ stage: 'egg', laidAtH: 0, count }],
    Math.max(stages.hatchMaxH, ...timesH) + 1,
  )
  return { p_extinct: pExtinct, expected_survivors: expectedMobiles }
}
