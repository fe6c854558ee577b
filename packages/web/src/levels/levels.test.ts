import type { LevelProfile, LevelSourceView } from '@kivram/contract/views/level';
import { LevelProfileBody, LevelSourceBody } from '@kivram/contract/requests/level';
import { check } from '@kivram/contract/validate';
import { describe, expect, it } from 'vitest';
import { becomes, draftOfProfile, newProfile, picked, profileBody } from './profileDraft';
import { bodyOf, draftOf, lightsIn, wrongLight } from './sourceDraft';

const standin: LevelSourceView = {
  version: -1,
  way: 'standin',
  profileId: null,
  snmp: null,
  http: null,
  command: null,
  isCommandAllowed: false,
  lightsDbm: [],
  outsideAddress: null,
  secretsKept: [],
};
const profileId = 'b5b9f5a2-3c54-4d0e-9d0a-1f6f6a0c1a01';

describe('a way of reading as it is typed', () => {
  it('sends of the chosen way only, and no secret that was not typed', () => {
    const draft = { ...draftOf(standin, ''), host: ' 10.0.0.2 ', url: 'http://10.0.0.2/', profileId };
    expect(bodyOf({ ...draft, way: 'snmp' }, { community: 'c', authPassword: 'x' }, 3, null)).toEqual({
      version: 3,
      way: 'snmp',
      profileId,
      snmp: { host: '10.0.0.2', port: 161, version: '2c', community: 'c' },
    });
    expect(bodyOf({ ...draft, way: 'snmp', version: '3' }, { community: 'c', authPassword: '' }, 3, null).snmp).toEqual(
      {
        host: '10.0.0.2',
        port: 161,
        version: '3',
        userName: '',
        authProtocol: 'sha',
        privProtocol: 'aes',
      },
    );
    expect(bodyOf({ ...draft, way: 'typed', lights: '-80 -70' }, {}, 0, null)).toEqual({
      version: 0,
      way: 'typed',
      lightsDbm: [-80, -70],
    });
    expect(bodyOf({ ...draft, way: 'table' }, { password: 'p' }, 0, null)).toEqual({ version: 0, way: 'table' });
  });

  it('is what the server takes, and what it refuses is named', () => {
    const draft = { ...draftOf(standin, ''), host: '10.0.0.2', url: 'http://10.0.0.2/x', command: 'probe', profileId };
    for (const way of ['standin', 'snmp', 'http', 'command', 'typed', 'table'] as const)
      expect(check(LevelSourceBody, bodyOf({ ...draft, way }, {}, -1, null)).errors, way).toBeUndefined();
    const port = check(LevelSourceBody, bodyOf({ ...draft, way: 'snmp', port: 'x' }, {}, -1, null));
    expect(port.errors?.[0]?.field).toBe('snmp.port');
    const none = check(LevelSourceBody, bodyOf({ ...draft, way: 'snmp', profileId: null }, {}, -1, null));
    expect(none.errors?.[0]?.message).toContain('must be chosen');
  });

  it('begins at the address that the radio was given on the bench, and keeps one that was typed', () => {
    expect(draftOf(standin, '10.61.4.12')).toMatchObject({ host: '10.61.4.12', url: 'http://10.61.4.12/' });
    const reached = { ...standin, snmp: { host: '10.0.0.9', port: 161, version: '2c' as const } };
    expect(draftOf(reached, '10.61.4.12').host).toBe('10.0.0.9');
    expect(draftOf(standin, '')).toMatchObject({ host: '', url: '' });
  });

  it('reads lights as people write them', () => {
    expect(lightsIn('−85, 75 and -65.5')).toEqual([-85, -75, -65.5]);
    expect(lightsIn('-85 dBm; -75dBm')).toEqual([-85, -75]);
    expect(lightsIn('')).toEqual([]);
  });

  it('names the word that is no level', () => {
    expect(wrongLight('−85, 75 and -65.5 dBm')).toBeNull();
    expect(wrongLight('')).toBeNull();
    expect(wrongLight('-85 x7 -65')).toContain('"x7" is no level');
    expect(wrongLight('-85 -700')).toContain('"-700" is no level');
  });

  it('drops no word that is no number: the check refuses it', () => {
    expect(lightsIn('bright -70')).toEqual([NaN, -70]);
    const body = bodyOf({ ...draftOf(standin, ''), way: 'typed', lights: 'bright' }, {}, 0, null);
    expect(check(LevelSourceBody, body).errors?.[0]?.message).toContain('−120 to 0 dBm');
  });
});

describe('a profile as it is typed', () => {
  const saved: LevelProfile = {
    id: profileId,
    version: 2,
    used: 0,
    name: 'Some radio',
    way: 'json',
    level: { where: '/level', type: 'text', scale: 1, offset: 0 },
    chains: [1, 2, 3].map((n) => ({ where: `/chains/${n}`, type: 'number', scale: 1, offset: 0 })),
    noise: null,
    txRate: null,
    rxRate: { where: '/rx', type: 'number', scale: 0.001, offset: 0 },
  };

  it('is saved as it was where nothing was typed, a third chain too', () => {
    const { id, used, ...body } = saved;
    void [id, used];
    expect(profileBody(draftOfProfile(saved))).toEqual(body);
  });

  it('takes a picked value with the factor that makes it plausible', () => {
    const value = (number: number | null) => ({ where: '/x', text: '', number, type: 'number' as const });
    expect(picked('level', value(-634)).scale).toBe(0.1);
    expect(picked('level', value(-63)).scale).toBe(1);
    expect(picked('level', value(63)).scale).toBe(-1);
    expect(picked('level', value(-6340)).scale).toBe(0.01);
    expect(picked('txRate', value(866_700)).scale).toBe(0.001);
    expect(picked('level', value(null)).scale).toBe(1);
    expect(becomes(picked('level', value(-634)), -634)).toBeCloseTo(-63.4, 9);
    expect(becomes({ where: '', type: 'number', scale: 'x', offset: 0 }, 1)).toBeNull();
  });

  it('can be a bare figure, which stands nowhere in particular', () => {
    const draft = newProfile(profileId, 'json');
    const level = picked('level', { where: '', text: '-63', number: -63, type: 'number' });
    const body = profileBody({ ...draft, name: 'Figure', values: { ...draft.values, level } });
    expect(body.level).toMatchObject({ where: '', scale: 1 });
    expect(check(LevelProfileBody, body).errors).toBeUndefined();
  });
});
