import { describe, expect, it } from 'vitest';
import { epsgOfWkt } from './wkt';

// As GDAL writes them: `gdalsrsinfo -o wkt_esri EPSG:32624`, `-o wkt1`, `-o wkt2`, shortened where nothing depends on it.
const esriUtm =
  'PROJCS["WGS_1984_UTM_Zone_24N",GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",500000.0],PARAMETER["False_Northing",0.0],PARAMETER["Central_Meridian",-39.0],UNIT["Meter",1.0]]';
const esriGeographic =
  'GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]]';

describe('a projection file', () => {
  it.each([
    [esriUtm, 32624],
    [esriUtm.replace('24N', '56S').replace('"False_Northing",0.0', '"False_Northing",10000000.0'), 32756],
    [esriGeographic, 4326],
    ['PROJCS["WGS 84 / UTM zone 24N",GEOGCS["WGS 84",AUTHORITY["EPSG","4326"]],AUTHORITY["EPSG","32624"]]', 32624],
    ['PROJCRS["WGS 84 / UTM zone 24N",BASEGEOGCRS["WGS 84",ID["EPSG",4326]],ID["EPSG",32624]]', 32624],
    [esriUtm.replaceAll('WGS_1984', 'NAD_1927'), null],
    ['holiday notes', null],
    ['', null],
  ])('%.60s', (text, epsg) => {
    expect(epsgOfWkt(text)).toBe(epsg);
  });
});
