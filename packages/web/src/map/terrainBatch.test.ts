import { describe, expect, it } from 'vitest';
import { terrainBatch } from './terrainBatch';

const utm = 'PROJCS["WGS_1984_UTM_Zone_24N",GEOGCS["GCS_WGS_1984"],PROJECTION["Transverse_Mercator"]]';
const file = (name: string, text = '', bytes = text.length): File => {
  const made = new File([text], name);
  Object.defineProperty(made, 'size', { value: bytes });
  return made;
};
const sorted = async (files: File[], epsg = '') => {
  const { jobs, problems } = await terrainBatch(files, epsg);
  return { jobs: jobs.map((job) => [job.file.name, job.epsg]), problems };
};

describe('terrain files that are dropped together', () => {
  it('go one after the other', async () => {
    expect(await sorted([file('a.tif'), file('b.hgt')])).toEqual({
      jobs: [
        ['a.tif', ''],
        ['b.hgt', ''],
      ],
      problems: [],
    });
  });

  it('are one terrain where a projection lies beside its grid', async () => {
    expect(await sorted([file('isle.prj', utm), file('Isle.asc'), file('isle.asc.aux.xml')])).toEqual({
      jobs: [['Isle.asc', 'EPSG:32624']],
      problems: [],
    });
  });

  it('take the projection that was typed before the one beside them', async () => {
    expect((await sorted([file('isle.prj', utm), file('isle.asc')], 'EPSG:4326')).jobs).toEqual([
      ['isle.asc', 'EPSG:4326'],
    ]);
  });

  it('are told what keeps them', async () => {
    const { jobs, problems } = await sorted([
      file('alone.prj', utm),
      file('odd.prj', 'LOCAL_CS["somewhere"]'),
      file('odd.asc'),
      file('whole-country.tif', '', 731e6),
      file('fine.tif'),
    ]);
    expect(jobs).toEqual([['fine.tif', '']]);
    expect(problems).toEqual([
      expect.stringContaining('odd.prj names no system that Kivram reads') as string,
      expect.stringContaining('whole-country.tif has 731 MB; 200 MB can be read') as string,
      expect.stringContaining('alone.prj tells a projection only') as string,
    ]);
  });
});
