import type { Carrier, Frame } from './frame';

/** Anything with an antenna. */
export interface Listener {
  mac: string;
  /** whether its receiver, as tuned at this moment, can make out this carrier */
  hears(carrier: Carrier): boolean;
  receive(frame: Frame): void;
}

/** One line of what happened, for showing. */
export interface AirEvent {
  atS: number;
  who: string;
  what: string;
}

/** The room in which the bench radios stand: delivers every frame to every receiver tuned to it, and keeps the time. */
export class Air {
  readonly events: AirEvent[] = [];
  private readonly listeners: Listener[] = [];
  private nowS = 0;

  join(listener: Listener): void {
    this.listeners.push(listener);
  }

  wait(seconds: number): void {
    this.nowS += seconds;
  }

  transmit(carrier: Carrier, frame: Frame): void {
    this.wait(0.002);
    for (const listener of this.listeners) {
      if (listener.mac === frame.from) continue;
      if (frame.to !== '*' && frame.to !== listener.mac.toLowerCase() && frame.to !== listener.mac) continue;
      if (listener.hears(carrier)) listener.receive(frame);
    }
  }

  note(who: string, what: string): void {
    this.events.push({ atS: Math.round(this.nowS * 1000) / 1000, who, what });
  }
}
