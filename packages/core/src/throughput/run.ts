/** How a throughput run was made, as far as its file tells. What is null it does not tell. */
export interface RunConditions {
  /** counted seconds, without those left out at the beginning */
  seconds: number | null;
  omittedSeconds: number;
  /** connections in parallel */
  streams: number;
  /** what the run was told to send, all streams together */
  targetMbps: number | null;
  /** payload of a TCP segment, or of a UDP packet */
  segmentBytes: number | null;
  /** how busy the busier computer was, 0 to 1 */
  busyShare: number | null;
  /** client and server on one machine: nothing crossed anything */
  oneMachine: boolean;
}

/** What nothing that crosses a link one way can exceed. */
export interface Ceiling {
  /** line rate of the slower Ethernet port */
  portMbps: number;
  /** the fastest step on air that both radios know; 0 where they share none */
  airMbps: number;
  /** both directions take turns on one channel, and share it */
  inTurns: boolean;
}
