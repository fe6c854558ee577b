/** A phone on an antenna, as the sensor of one angle. */
export interface Phone {
  /** @param trueDeg where the antenna points; @returns what the phone says */
  read(trueDeg: number, tS: number): number;
}
