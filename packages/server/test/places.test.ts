import { Op } from 'sequelize';
import { PlaceRow } from '../src/database/models/place';
import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import type { JobMapView } from '@kivram/contract/views/job';
import type { PlacesImport } from '@kivram/contract/views/terrain';
import { solveGeodesic } from '@kivram/core/geodesy/geodesic';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readWaypoints } from '../src/formats/places';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const jobPath = (): string => `/api/jobs/${server.jobId}`;
const job = async (): Promise<JobMapView> => (await server.get(`${jobPath()}/map`)).body as JobMapView;

const gpx = `<?xml version="1.0"?>
<gpx version="1.1" creator="by hand" xmlns="http://www.topografix.com/GPX/1/1">
  <wpt lat="33.4201" lon="-37.8501"><ele>12.5</ele><name>Cairn</name></wpt>
  <wpt lat="33.4302" lon="-37.8602"><name>Mill &amp; weir</name></wpt>
  <rte><name>way</name><rtept lat="33.1" lon="-37.1"/><rtept lat="33.2" lon="-37.2"/></rte>
</gpx>`;
const kml = `<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document>
  <Placemark><name>Cairn</name><Point><coordinates>-37.8501,33.4201,12.5</coordinates></Point></Placemark>
  <Folder><Placemark><name>Mill &amp; weir</name><Point><coordinates>-37.8602,33.4302</coordinates></Point></Placemark></Folder>
  <Placemark><name>way</name><LineString><coordinates>-37.1,33.1 -37.2,33.2</coordinates></LineString></Placemark>
</Document></kml>`;
const point = (name: string, coordinates: number[]) => ({
  type: 'Feature',
  geometry: { type: 'Point', coordinates },
  properties: { name },
});
const geoJson = JSON.stringify({
  type: 'FeatureCollection',
  features: [
    point('Cairn', [-37.8501, 33.4201, 12.5]),
    point('Mill & weir', [-37.8602, 33.4302]),
    {
      type: 'Feature',
      geometry: {
        type: 'LineString',
        coordinates: [
          [-37.1, 33.1],
          [-37.2, 33.2],
        ],
      },
      properties: {},
    },
  ],
});
const csv =
  'Name;Latitude;Longitude;Elevation\nCairn;33,4201;-37,8501;12,5\nMill & weir;33°25\'48.72"N;37°51\'36.72"W;\n';
const utm = 'name,position\nCairn,24 north 606900 3698454\n';

describe('waypoints', () => {
  it.each([
    ['a.gpx', gpx],
    ['a.kml', kml],
    ['a.geojson', geoJson],
    ['a.csv', csv],
  ])('of %s are the same two places', (name, text) => {
    const { waypoints, notes } = readWaypoints(name, text);
    expect(waypoints.map((w) => w.name)).toEqual(['Cairn', 'Mill & weir']);
    expect(waypoints[0]).toMatchObject({ latitudeDeg: 33.4201, longitudeDeg: -37.8501, heightM: 12.5 });
    expect(waypoints[1]?.latitudeDeg).toBeCloseTo(33.4302, 6);
    expect(waypoints[1]?.heightM).toBeNull();
    if (name !== 'a.csv') expect(notes).toEqual(['1 line or area left out: only points become places.']);
  });

  it('of a table may stand in UTM', () => {
    const [cairn] = readWaypoints('a.csv', utm).waypoints;
    expect(
      solveGeodesic(cairn ?? { latitudeDeg: 0, longitudeDeg: 0 }, { latitudeDeg: 33.4201, longitudeDeg: -37.8501 })
        .distanceM,
    ).toBeLessThan(50);
  });

  it('that cannot be are left out one by one, with the reason', () => {
    const { waypoints, notes } = readWaypoints('a.csv', 'name,lat,lon\nA,33.4,-37.8\nB,95,-37.8\nC,,\n');
    expect(waypoints).toHaveLength(1);
    expect(notes[0]).toContain('B: "95" is no latitude');
    expect(notes[1]).toContain('C: "" is no latitude');
  });

  it.each([
    ['a.gpx', '<kml></kml>', 'begins with <kml>'],
    ['a.gpx', '<gpx><wpt lat="1"', 'is broken'],
    ['a.kml', '<!DOCTYPE kml [<!ENTITY a "aaaa">]><kml>&a;</kml>', 'has a DOCTYPE'],
    ['a.geojson', '{"type":', 'This is no JSON'],
    ['a.geojson', '{"type":"Topology"}', 'should be FeatureCollection'],
    ['a.geojson', '{"type":"FeatureCollection","features":[]}', 'No place was found'],
    ['a.csv', 'name,where\nA,there\n', 'needs "latitude" and "longitude"'],
    ['a.csv', 'name,lat,lon\n', 'header only'],
    ['a.docx', 'PK', '"a.docx" is none of the files'],
  ])('%s with %s: %s', (name, text, words) => {
    expect(() => readWaypoints(name, text)).toThrow(words);
  });
});

describe('places', () => {
  it("take the terrain's height when none is typed, and say when there is no terrain", async () => {
    const made = await server.post(`${jobPath()}/places`, {
      name: 'Knoll',
      latitudeDeg: 33.4411,
      longitudeDeg: -37.8687,
      kind: 'site',
    });
    expect(made.status).toBe(200);
    expect((made.body as Place).groundHeightM).toBeCloseTo(143, 0);
    const nowhere = await server.post(`${jobPath()}/places`, {
      name: 'Atoll',
      latitudeDeg: 20,
      longitudeDeg: -40,
      kind: 'site',
    });
    expect(nowhere.status).toBe(422);
    expect(nowhere.body.detail).toContain('No terrain is known at 20.00000, -40.00000: type the height');
    const typed = await server.post(`${jobPath()}/places`, {
      name: 'Atoll',
      latitudeDeg: 20,
      longitudeDeg: -40,
      groundHeightM: 2,
      kind: 'site',
    });
    expect(typed.status).toBe(200);
  });

  it('that came before the terrain stand at 0 m, are told once, and take its heights in one press', async () => {
    const lines = Array.from({ length: 5 }, (_, i) => `Rock ${i},${20 + i / 100},-40`);
    const text = ['name,lat,lon,colour', ...lines, `${'A long '.repeat(12)}name,21,-40,red`].join('\n');
    const read = (await server.post(`${jobPath()}/places/import`, { fileName: 'a.csv', text, kind: 'site' })).body;
    expect((read.notes as string[]).filter((note) => note.includes('0 m'))).toEqual([
      'Rock 0, Rock 1, Rock 2 and 3 more: neither the file nor the terrain knows their heights; they stand at 0 m until the terrain is here.',
    ]);
    expect(read.notes.join()).toContain('is longer than a name may be here');
    expect(read.notes.join()).toContain('the columns colour');
    const map = async () => (await server.get(`${jobPath()}/map`)).body as JobMapView;
    expect((await map()).atZero).toEqual([]);
    // As if the terrain had come after it.
    await PlaceRow.update({ groundHeightM: 0 }, { where: { name: 'Knoll' } });
    const zero = (await map()).places.find(({ name }) => name === 'Knoll');
    expect((await map()).atZero).toEqual([zero?.id]);
    expect((await server.post(`${jobPath()}/places/ground`)).body).toEqual({ changed: 1 });
    expect((await map()).places.find(({ name }) => name === 'Knoll')?.groundHeightM).toBeCloseTo(143, 0);
    expect((await map()).atZero).toEqual([]);
    expect((await server.post(`${jobPath()}/places/ground`)).body).toEqual({ changed: 0 });
    expect((await server.get(`${jobPath()}/events`)).text).toContain("Took the terrain's height for Knoll");
    await PlaceRow.destroy({
      where: { name: { [Op.or]: [{ [Op.startsWith]: 'Rock' }, { [Op.startsWith]: 'A long' }] } },
    });
  });

  it('move with the terrain under them, and back; two who move at once are told', async () => {
    const place = (await job()).places.find((p) => p.name === 'Knoll') as Place;
    const move = (version: number, latitudeDeg: number) =>
      server.patch(`/api/places/${place.id}`, { version, latitudeDeg, groundFromTerrain: true });
    const moved = (await move(place.version, 33.43)).body as Place;
    expect(moved.latitudeDeg).toBe(33.43);
    expect(moved.groundHeightM).not.toBe(place.groundHeightM);
    expect((await move(place.version, 33.42)).status).toBe(409);
    const back = (await move(moved.version, place.latitudeDeg)).body as Place;
    expect(back.groundHeightM).toBe(place.groundHeightM);
  });

  it('are not moved to nowhere: nothing is no latitude', async () => {
    const { places } = await job();
    const place = places.find((p) => p.name === 'Atoll') as Place;
    const change = { version: place.version, groundFromTerrain: true, latitudeDeg: null };
    const refused = await server.patch(`/api/places/${place.id}`, change);
    expect(refused.status).toBe(422);
    expect(refused.body.detail).toContain('latitude is missing');
  });

  it('go when they carry nothing, and stay when they carry radios', async () => {
    const { places } = await job();
    const remove = (name: string, later = 0) => {
      const place = places.find((p) => p.name === name);
      return server.delete(`/api/places/${place?.id}?version=${(place?.version ?? 0) + later}`);
    };
    expect((await remove('Atoll', 1)).status).toBe(409); // somebody has changed it since
    expect((await remove('Atoll')).body).toEqual({ removed: true });
    const kept = await remove('Ice works');
    expect(kept.status).toBe(409);
    expect(kept.body.detail).toContain('Ice works carries radios');
    const site = places.find((p) => p.name === 'Ice works') as Place;
    const turned = await server.patch(`/api/places/${site.id}`, { version: site.version, kind: 'landmark' });
    expect(turned.status).toBe(409);
  });

  it('come from files with names of their own, and go into files that come back the same', async () => {
    const body = { fileName: 'walk.gpx', text: gpx, kind: 'landmark' };
    const first = (await server.post(`${jobPath()}/places/import`, body)).body as PlacesImport;
    expect(first.places.map((p) => [p.name, p.kind])).toEqual([
      ['Cairn', 'landmark'],
      ['Mill & weir', 'landmark'],
    ]);
    const again = (await server.post(`${jobPath()}/places/import`, body)).body as PlacesImport;
    expect(again.places).toEqual([]);
    expect(again.notes).toContain('2 were here already, by name and position, and left as they are.');
    // The same name elsewhere is another place.
    const moved = { ...body, text: gpx.replace(/lat="[\d.]+"/g, 'lat="33.5"') };
    const elsewhere = (await server.post(`${jobPath()}/places/import`, moved)).body as PlacesImport;
    expect(elsewhere.places[0]?.name).toBe('Cairn 2');
    expect(elsewhere.notes.join()).toContain('"Cairn" is called "Cairn 2" here');
    const bad = await server.post(`${jobPath()}/places/import`, { ...body, text: '<gpx/>' });
    expect(bad.status).toBe(422);
    expect(bad.body.detail).toContain('No place was found');

    const { places } = await job();
    for (const format of ['geojson', 'kml']) {
      const file = await server
        .get(`${jobPath()}/places.${format}`)
        .buffer(true)
        .parse((response, done) => {
          let text = '';
          response.on('data', (chunk: Buffer) => (text += chunk.toString()));
          response.on('end', () => done(null, text));
        });
      expect(file.headers['content-disposition']).toContain(`Tessary-harbour.${format}`);
      const { waypoints } = readWaypoints(`x.${format}`, file.body as string);
      expect(waypoints.map((w) => [w.name, w.latitudeDeg, w.longitudeDeg])).toEqual(
        places.map((p) => [p.name, p.latitudeDeg, p.longitudeDeg]),
      );
      expect(file.body).toContain('LineString');
    }
    expect((await server.get(`${jobPath()}/places.shp`)).status).toBe(404);
  });
});

describe('obstacles', () => {
  const trees = () => ({
    name: 'the alders',
    kind: 'trees',
    footprint: [{ latitudeDeg: 33.4189, longitudeDeg: -37.8348 }],
    widthM: 30,
    heightM: 26,
    growthMPerYear: 0.4,
    measuredYear: 2026,
    confidence: 'measured',
  });

  it("change a link's path as soon as they are noted, and again when they are gone", async () => {
    const before = await server.link('Ice works');
    expect(before.state.steps[0]?.state).toBe('holds');
    const made = (await server.post(`${jobPath()}/obstacles`, trees())).body as Obstacle;
    const blocked = await server.link('Ice works');
    expect(blocked.state.steps[0]).toMatchObject({ state: 'fails' });
    expect(blocked.state.steps[0]?.because).toContain('the alders');
    const lower = { ...trees(), heightM: 4, version: made.version };
    expect((await server.put(`/api/obstacles/${made.id}`, lower)).status).toBe(200);
    expect((await server.link('Ice works')).state.steps[0]?.state).toBe('holds');
    expect((await server.put(`/api/obstacles/${made.id}`, lower)).status).toBe(409);
    const remove = (version: number) => server.delete(`/api/obstacles/${made.id}?version=${version}`);
    expect((await remove(made.version)).status).toBe(409);
    expect((await remove(made.version + 1)).body).toEqual({ removed: true });
    expect((await remove(made.version + 1)).status).toBe(404);
    const timeline = await server.get(`${jobPath()}/events`);
    const told = (timeline.body.events as { summary: string }[]).slice(0, 3).map((e) => e.summary);
    expect(told).toEqual(['Removed the alders', 'Changed the alders: height 26 to 4 m', 'Noted the alders, 26 m high']);
  });

  it.each([
    [{ footprint: [] }, 'Say where it stands'],
    [{ widthM: 0 }, 'A width of 0 m hides nothing'],
    [{ heightM: 0 }, 'A height of 0 m hides nothing'],
    [{ kind: 'water' }, 'it takes no position'],
    [{ kind: 'fog' }, 'kind is "fog": it must be one of trees; building; vehicle; water at high tide'],
    [{ heightM: 9000 }, 'height is 9000: it must be a number from −20 to 500 m high'],
    [{ footprint: [{ latitudeDeg: 95, longitudeDeg: 0 }] }, 'latitude is 95'],
  ])('%j: %s', async (changes, words) => {
    const answer = await server.post(`${jobPath()}/obstacles`, { ...trees(), ...changes });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });

  it("travel with the job's document", async () => {
    const document = (await server.get(`${jobPath()}/export`)).body as { obstacles: Obstacle[]; places: Place[] };
    expect(document.obstacles.map((o) => o.name)).toContain('the tamarisks');
    expect((await server.post('/api/jobs/import?replace=yes', document)).status).toBe(200);
    const again = (await server.get(`${jobPath()}/export`)).body as typeof document;
    expect(again.obstacles).toEqual(document.obstacles);
    expect(again.places).toEqual(document.places);
  });
});

describe('the database itself', () => {
  it.each([
    [
      `INSERT INTO obstacle (job_id, name, kind, footprint, width_m, height_m, growth_m_per_year, measured_year, confidence) SELECT id, 'x', 'trees', '[]', 1, 1, 0, 2026, 'measured' FROM job`,
      'obstacle_check',
    ],
    [`UPDATE link SET path_kind = 'shaft'`, 'link_shaft_range'],
    [`UPDATE link SET shaft_least_m = 5, shaft_most_m = 4 WHERE path_kind = 'shaft'`, 'link_shaft_range'],
    [`UPDATE place SET kind = 'hill'`, 'place_kind_check'],
    [`UPDATE terrain_file SET void_share = 1`, 'void_share'],
  ])('refuses %s', async (sql, constraint) => {
    await expect(server.sequelize.query(sql)).rejects.toThrow(constraint);
  });
});

describe('an aim card', () => {
  it.each(['near', 'far'])('for the %s end is one page of PDF', async (end) => {
    const id = await server.linkId('Ice works');
    const answer = await server
      .get(`/api/links/${id}/aim-cards/${end}.pdf?units=imperial`)
      .buffer(true)
      .parse((response, done) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk));
        response.on('end', () => done(null, Buffer.concat(chunks)));
      });
    expect(answer.status).toBe(200);
    const pdf = (answer.body as Buffer).toString('latin1');
    expect(pdf.startsWith('%PDF-')).toBe(true);
    expect(pdf.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(1);
  });

  it('has no middle', async () => {
    expect((await server.get(`/api/links/${await server.linkId('Ice works')}/aim-cards/middle.pdf`)).status).toBe(404);
  });
});
