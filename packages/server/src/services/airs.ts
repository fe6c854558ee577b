import type { MapRadio } from '@kivram/contract/views/job';
import type { Model } from '@kivram/core/gear/model';
import type { Transaction } from 'sequelize';
import { AirRow } from '../database/models/air';
import { GearModelRow } from '../database/models/gearModel';
import { RadioRow } from '../database/models/radio';
import { checkAir, type GearUse } from './gearChecks';
import { viewAir } from './rowViews';

/** Every radio of an air must be able to do what the air asks. @throws ApiProblem naming value and repair */
export async function checkWholeAir(airId: string, transaction: Transaction): Promise<void> {
  const air = await AirRow.findByPk(airId, { transaction, rejectOnEmpty: true });
  const radios = await RadioRow.findAll({ where: { airId }, transaction });
  const models = await GearModelRow.findAll({ where: { id: [...new Set(radios.map((r) => r.modelId))] }, transaction });
  const specOf = (radio: RadioRow): Model =>
    models.find((m) => m.id === radio.modelId && m.revision === radio.modelRevision)?.spec as Model;
  checkAir(
    air,
    radios.map((radio): GearUse => ({ model: specOf(radio), role: radio.role, conductedDbm: radio.conductedDbm })),
  );
}

/** All radios of a job with their airs. */
export async function radiosOf(jobId: string): Promise<MapRadio[]> {
  const [radios, airs] = await Promise.all([
    RadioRow.findAll({ where: { jobId }, order: [['id', 'ASC']] }),
    AirRow.findAll({ where: { jobId } }),
  ]);
  const air = new Map(airs.map((row) => [row.id, viewAir(row)]));
  return radios.map((row) => {
    const { id, placeId, modelId, modelRevision, role, conductedDbm, mountHeightM, azimuthDeg, tiltDeg } = row;
    return {
      id,
      placeId,
      modelId,
      modelRevision,
      role,
      conductedDbm,
      mountHeightM,
      azimuthDeg,
      tiltDeg,
      air: air.get(row.airId) as MapRadio['air'],
    };
  });
}
