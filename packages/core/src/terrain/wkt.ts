/**
 * The EPSG code of a projection file (.prj) as it lies beside grids: Esri's or OGC's well-known text, of WGS84 geographic or WGS84 UTM, the systems that
 * Kivram reads.
 * @returns null where it is another system, or none
 */
export function epsgOfWkt(text: string): number | null {
  const said = [...text.matchAll(/(?:AUTHORITY|ID)\s*\[\s*"EPSG"\s*,\s*"?(\d{4,6})"?\s*\]/gi)].at(-1)?.[1];
  if (said) return Number(said);
  if (!/WGS[_ ]?(?:19)?84/i.test(text)) return null;
  const zone = /UTM[_ ]zone[_ ]?(\d{1,2})[_ ]?([NS])?/i.exec(text);
  if (zone) {
    const number = Number(zone[1]);
    const south = zone[2]?.toUpperCase() === 'S' || /false_northing"?\s*,\s*10000000/i.test(text);
    return number >= 1 && number <= 60 ? (south ? 32700 : 32600) + number : null;
  }
  return /^\s*GEOG(?:CS|CRS)/i.test(text) ? 4326 : null;
}
