/** Packets in flight at the start, and at most: RFC 6928, and a window of about 6 MB. */
const firstWindow = 10;
const mostWindow = 4000;

/** A bulk sender: fills its window, halves it at a loss, grows it again by what is acknowledged (RFC 5681). */
export class BulkSender {
  inFlight = 0;
  retransmits = 0;
  private window = firstWindow;
  private threshold = mostWindow;
  private deafUntilUs = 0;

  /** how many packets may go out now */
  get room(): number {
    return Math.max(0, Math.floor(this.window) - this.inFlight);
  }

  sent(packets: number): void {
    this.inFlight += packets;
  }

  /** Acknowledgements count up: one that arrives tells of all that were lost before it. */
  acknowledged(upTo: number): void {
    const packets = Math.min(upTo, this.inFlight);
    this.inFlight -= packets;
    this.window = Math.min(
      mostWindow,
      this.window < this.threshold ? this.window + packets : this.window + packets / this.window,
    );
  }

  /** Nothing has come back for long: everything in flight is given up and sent anew, slowly. */
  timeOut(nowUs: number): void {
    this.lost(this.inFlight, nowUs, 0);
    this.window = 2;
  }

  /** Lost packets are sent again; however many are lost in one round, the window is halved once. */
  lost(packets: number, nowUs: number, roundTripUs: number): void {
    this.inFlight -= packets;
    this.retransmits += packets;
    if (nowUs < this.deafUntilUs) return;
    this.window = Math.max(2, this.window / 2);
    this.threshold = this.window;
    this.deafUntilUs = nowUs + roundTripUs;
  }
}
