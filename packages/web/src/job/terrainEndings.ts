/** Endings of files that hold terrain, or the projection of one; whatever else is dropped holds places. */
export const terrainEndings = /\.(tiff?|hgt|asc|grd|prj)$/i;
