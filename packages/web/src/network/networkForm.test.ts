import { describe, expect, it } from 'vitest';
import { readDevices, writeDevices } from './deviceTable';
import { emptyDevice, emptySubnet, formOf, readNetwork, type NetworkForm } from './networkForm';

const site = { name: 'site', block: '10.20.0.0/24', gateway: '10.20.0.1', dhcp: '10.20.0.100-199' };
const form = (changes: Partial<NetworkForm> = {}): NetworkForm => ({
  feedDownMbps: 200,
  feedUpMbps: null,
  feedPlaceId: '',
  subnets: [site],
  devices: [{ name: 'recorder', kind: 'recorder', address: '10.20.0.20', mac: '021A.2b3c4d5e'.replace('.', '') }],
  ...changes,
});

describe('a network as it is typed', () => {
  it('is read as it is meant', () => {
    const { body, faults, warnings } = readNetwork(form());
    expect(body).toEqual({
      feedDownMbps: 200,
      feedUpMbps: null,
      feedPlaceId: null,
      subnets: [
        {
          name: 'site',
          address: '10.20.0.0',
          prefix: 24,
          gateway: '10.20.0.1',
          dhcp: [{ first: '10.20.0.100', last: '10.20.0.199' }],
        },
      ],
      devices: [{ name: 'recorder', kind: 'recorder', address: '10.20.0.20', mac: '02:1a:2b:3c:4d:5e' }],
    });
    expect([faults, warnings]).toEqual([0, []]);
  });

  it('comes back from what is saved as it was', () => {
    const { body } = readNetwork(form());
    const saved = {
      network: { ...body, id: 'n', version: 3 },
      devices: body.devices.map((device) => ({ ...device, id: 'd' })),
    };
    expect(readNetwork(formOf(saved)).body).toEqual(body);
    expect(formOf({ network: null, devices: [] })).toMatchObject({ subnets: [], devices: [], feedPlaceId: '' });
  });

  it('leaves out rows in which nothing is typed', () => {
    const { body, faults } = readNetwork(form({ subnets: [site, emptySubnet], devices: [emptyDevice] }));
    expect([body.subnets.length, body.devices.length, faults]).toEqual([1, 0, 0]);
  });

  it('names what is wrong at its row and field', () => {
    const read = readNetwork(
      form({
        subnets: [
          { ...site, block: '10.20.0.0' },
          { ...site, name: 'b', block: '10.21.0.0/16', gateway: '10.21', dhcp: 'some' },
        ],
        devices: [
          { ...emptyDevice, name: 'camera' },
          { ...emptyDevice, address: '10.20.0.300', mac: 'x' },
        ],
      }),
    );
    expect(read.faults).toBe(4);
    expect(read.subnets[0]?.block).toContain('is no subnet');
    expect(read.subnets[1]).toMatchObject({
      gateway: expect.stringContaining('"10.21"'),
      dhcp: expect.stringContaining('no range'),
    });
    expect(read.devices[0]).toEqual({ address: 'It needs an address.' });
    expect(Object.keys(read.devices[1] ?? {})).toEqual(['name', 'address', 'mac']);
  });

  it('says at its row what cannot be, whatever rows are left out before it', () => {
    const twin = { ...emptyDevice, name: 'camera', address: '10.20.0.20' };
    const read = readNetwork(form({ devices: [emptyDevice, ...form().devices, emptyDevice, twin] }));
    expect(read.devices[3]?.row).toContain("recorder's already");
    expect(read.faults).toBe(1);
  });
});

describe('devices out of a table', () => {
  it.each([
    ['a spreadsheet, by its columns', 'Name\tIP address\tType\nquay camera\t10.20.0.21\tcamera\n'],
    ['a spreadsheet without names', 'quay camera\t10.20.0.21\tcamera'],
    ['another order', 'camera;10.20.0.21;quay camera'],
    ['CSV with a mark at its start', '\uFEFFaddress,kind,name\r\n10.20.0.21,Camera,"quay camera"\r\n'],
  ])('of %s', (_, text) => {
    const devices = [{ name: 'quay camera', kind: 'camera', address: '10.20.0.21', mac: '' }];
    expect(readDevices(text)).toEqual({ devices, unused: [], cut: [] });
  });

  it('come back as they were saved, also names that look like formulas', () => {
    const devices = [
      { name: '=SUM(A1)', kind: 'accessPoint' as const, address: '10.20.0.7', mac: '02:1a:2b:3c:4d:5e' },
      { name: 'printer; "old"', kind: 'other' as const, address: '10.20.0.8', mac: '' },
    ];
    const text = writeDevices(devices);
    expect(text).toContain("'=SUM");
    expect(readDevices(text).devices).toEqual(devices);
  });

  it('are told what of the table was not read: columns that a device has no field for, and the ends of long names', () => {
    const long = 'the camera over the second door of the boat shed where the rails end';
    const { devices, unused, cut } = readDevices(`Hostname,IP address,Serial,Name\n${long},10.20.0.21,A-1,x\n`);
    expect(devices).toEqual([{ name: long.slice(0, 60), kind: 'other', address: '10.20.0.21', mac: '' }]);
    expect(unused).toEqual(['Serial', 'Name']);
    expect(cut).toEqual([long]);
  });

  it('of a kind nobody knows are something else, and nothing of a row is lost', () => {
    expect(readDevices('toaster,10.20.0.9,,x\n,,\n').devices).toEqual([
      { name: 'toaster', kind: 'other', address: '10.20.0.9', mac: '' },
      { name: '', kind: 'other', address: '', mac: '' },
    ]);
  });
});
