/** How people call the fields of requests, with the unit of their values. A field that is not here is called as it is written, in words. */
const fieldWords: Record<string, [words: string, unit: string]> = {
  name: ['name', ''],
  kind: ['kind', ''],
  note: ['note', ''],
  latitudeDeg: ['latitude', '°'],
  longitudeDeg: ['longitude', '°'],
  groundHeightM: ['ground', ' m'],
  mountHeightM: ['mount height', ' m'],
  polarisation: ['polarisation', ''],
  conductedDbm: ['power', ' dBm'],
  cableLossDb: ['cable loss', ' dB'],
  azimuthDeg: ['direction', '°'],
  tiltDeg: ['tilt', '°'],
  centreMHz: ['channel', ' MHz'],
  returnMHz: ['second frequency', ' MHz'],
  widthMHz: ['width', ' MHz'],
  protocol: ['protocol', ''],
  errorCorrection: ['error correction', ''],
  needNearToFarMbps: ['need near to far', ' Mbit/s'],
  needFarToNearMbps: ['need far to near', ' Mbit/s'],
  shaftLeastM: ['closest point of the car', ' m'],
  shaftMostM: ['farthest point of the car', ' m'],
  footprint: ['position', ''],
  widthM: ['width', ' m'],
  heightM: ['height', ' m'],
  growthMPerYear: ['growth', ' m a year'],
  networkName: ['network name', ''],
  deviceName: ['device name', ''],
  byDeg: ['turn', '°'],
  mbps: ['speed', ' Mbit/s'],
  mac: ['hardware address', ''],
  txMHz: ['transmit frequency', ' MHz'],
  rxMHz: ['receive frequency', ' MHz'],
  modelId: ['model', ''],
  placeId: ['place', ''],
  crewMemberId: ['crew member', ''],
  measuredYear: ['year measured', ''],
  confidence: ['confidence', ''],
  scanMHz: ['list of channels', ' MHz'],
  prefix: ['mask', ''],
  ptpOnly: ['point-to-point only', ''],
  followsWidth: ['following the width', ''],
  bridge: ['bridge mode', ''],
  radioId: ['radio', ''],
  linkId: ['link', ''],
  airKind: ['kind of air', ''],
  pathKind: ['kind of path', ''],
  clientAt: ['end of the client', ''],
  fileName: ['name of the file', ''],
  text: ['text of the file', ''],
  value: ['speed', ''],
  nearSource: ['angle at the near end', ''],
  farSource: ['angle at the far end', ''],
  groundFromTerrain: ['ground from the terrain', ''],
  nearRevision: ['revision of the near settings', ''],
  farRevision: ['revision of the far settings', ''],
  cautionsRead: ['reading the cautions', ''],
};

/** A field's name in words, for sentences that people read: "mount height" for `mountHeightM`. */
export function nameOfField(field: string): string {
  return fieldWords[field]?.[0] ?? field.replace(/[A-Z]+/g, (capitals) => ` ${capitals.toLowerCase()}`);
}

/** With a space before it where it needs one, to be put after a value; empty where the values have none. */
export function unitOfField(field: string): string {
  return fieldWords[field]?.[1] ?? '';
}
