const boltzmannJPerK = 1.380649e-23;
const referenceTemperatureK = 290;

/** Thermal noise at 290 K in a bandwidth, k T B, plus the receiver's noise figure. -174 dBm in 1 Hz. */
export function noiseDbm(bandwidthMHz: number, noiseFigureDb: number): number {
  const thermalW = boltzmannJPerK * referenceTemperatureK * bandwidthMHz * 1e6;
  return 10 * Math.log10(thermalW * 1000) + noiseFigureDb;
}
