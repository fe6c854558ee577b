/** A packet of 1500 bytes on an Ethernet wire with header, check, preamble and gap; an acknowledgement on the way back. */
const packetWireBits = 8 * 1538;

/** A cable and its port: passes packets on one after the other. What finds its queue full is lost. */
export class Wire {
  private busyUntilUs = 0;
  private readonly leaving: { atUs: number; packets: number }[] = [];
  waiting = 0;

  constructor(
    private readonly mbps: number,
    private readonly mostWaiting = Infinity,
  ) {}

  /** Puts packets on the wire. @returns how many found no room */
  put(packets: number, nowUs: number): number {
    const taken = Math.min(packets, this.mostWaiting - this.waiting);
    if (taken > 0) {
      this.busyUntilUs = Math.max(this.busyUntilUs, nowUs) + (taken * packetWireBits) / this.mbps;
      this.leaving.push({ atUs: this.busyUntilUs, packets: taken });
      this.waiting += taken;
    }
    return packets - taken;
  }

  /** Packets that have left the wire by now. */
  take(nowUs: number): number {
    let packets = 0;
    while (this.leaving[0] && this.leaving[0].atUs <= nowUs) packets += this.leaving.shift()?.packets ?? 0;
    this.waiting -= packets;
    return packets;
  }

  /** when the next packet leaves */
  get nextUs(): number {
    return this.leaving[0]?.atUs ?? Infinity;
  }
}
