import type { Response } from 'express';

/** What may wait to be sent to one viewer, bytes: ten seconds of a line that takes nothing. Who is further behind is let go, and asks again. */
const mostWaiting = 256 * 1024;

/** Server-sent events to one viewer. Nothing that is said to it can throw, whatever has become of the line: another's request, or a timer, says it. */
export class EventStream {
  constructor(private readonly response: Response) {
    // A line that breaks is no fault of this program's; its end is told by "close".
    response.on('error', () => undefined);
  }

  get isOpen(): boolean {
    const { writableEnded, destroyed } = this.response;
    return !writableEnded && !destroyed;
  }

  begin(): void {
    if (!this.isOpen) return;
    const head = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', connection: 'keep-alive' };
    this.response.writeHead(200, head).write(': watching\n\n');
  }

  say(event: object): void {
    if (!this.isOpen) return;
    if (this.response.writableLength > mostWaiting) this.response.destroy();
    else this.response.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  end(): void {
    if (this.isOpen) this.response.end();
  }

  /** Calls once the line is closed; at once where it is already. */
  whenClosed(then: () => void): void {
    if (this.response.closed) then();
    else this.response.once('close', then);
  }
}
