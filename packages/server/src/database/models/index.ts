import type { Sequelize } from 'sequelize';
import { initAimMark } from './aimMark';
import { initAir } from './air';
import { initAlternative } from './alternative';
import { initAlignment } from './alignment';
import { initBenchRun } from './benchRun';
import { initCable } from './cable';
import { initChange } from './change';
import { initCrewMember } from './crewMember';
import { initEvent } from './event';
import { initGearModel } from './gearModel';
import { initJob } from './job';
import { initKnownDevice } from './knownDevice';
import { initLease } from './lease';
import { initLevelProfile } from './levelProfile';
import { initLevelSource } from './levelSource';
import { initLink } from './link';
import { initLinkMemo } from './linkMemo';
import { initNetwork } from './network';
import { initLicence } from './licence';
import { initLocalRule } from './localRule';
import { initObstacle } from './obstacle';
import { initPathCheck } from './pathCheck';
import { initPerson } from './person';
import { initPhoto } from './photo';
import { initPlaceNeed } from './placeNeed';
import { initPlace } from './place';
import { initRadio } from './radio';
import { initRadioLogin } from './radioLogin';
import { initReading } from './reading';
import { initRuleSet } from './ruleSet';
import { initSheet } from './sheet';
import { initStandinWorld } from './standinWorld';
import { initSubnet } from './subnet';
import { initTerrainFile } from './terrainFile';
import { initTerrainTile } from './terrainTile';
import { initThroughputTest } from './throughputTest';
import { initVisit } from './visit';

export * from './aimMark';
export * from './air';
export * from './alignment';
export * from './alternative';
export * from './benchRun';
export * from './cable';
export * from './change';
export * from './crewMember';
export * from './event';
export * from './gearModel';
export * from './job';
export * from './knownDevice';
export * from './lease';
export * from './levelProfile';
export * from './levelSource';
export * from './link';
export * from './linkMemo';
export * from './network';
export * from './licence';
export * from './localRule';
export * from './obstacle';
export * from './pathCheck';
export * from './person';
export * from './photo';
export * from './place';
export * from './placeNeed';
export * from './radio';
export * from './radioLogin';
export * from './reading';
export * from './ruleSet';
export * from './sheet';
export * from './standinWorld';
export * from './subnet';
export * from './terrainFile';
export * from './terrainTile';
export * from './throughputTest';
export * from './visit';

/** Makes every table known to Sequelize. */
export function initModels(sequelize: Sequelize): void {
  const inits = [
    initJob,
    initLevelProfile,
    initLevelSource,
    initPathCheck,
    initPerson,
    initCrewMember,
    initRuleSet,
    initPlace,
    initPlaceNeed,
    initLicence,
    initLocalRule,
    initObstacle,
    initTerrainFile,
    initTerrainTile,
    initNetwork,
    initSubnet,
    initKnownDevice,
    initGearModel,
    initAir,
    initRadio,
    initRadioLogin,
    initLink,
    initLinkMemo,
    initSheet,
    initBenchRun,
    initAlignment,
    initAlternative,
    initReading,
    initAimMark,
    initThroughputTest,
    initVisit,
    initPhoto,
    initCable,
    initChange,
    initEvent,
    initLease,
    initStandinWorld,
  ];
  for (const init of inits) init(sequelize);
}
