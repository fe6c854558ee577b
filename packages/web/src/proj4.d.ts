// The parts of proj4, which has types only for the whole.
declare module 'proj4/lib/core' {
  const core: typeof import('proj4').default;
  export default core;
}
declare module 'proj4/lib/Proj' {
  const Proj: { projections: { add(projection: unknown): void } };
  export default Proj;
}
declare module 'proj4/lib/projections/etmerc' {
  const projection: unknown;
  export default projection;
}
declare module 'proj4/lib/projections/utm' {
  const projection: unknown;
  export default projection;
}
