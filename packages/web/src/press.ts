import { notifyManager } from '@tanstack/react-query';

/** A press is over after this, ms; whoever keeps a button down holds nothing up. */
const longestMs = 500;

/** From when the finger is lifted until the browser has said what was pressed, ms. */
const clickMs = 30;

/**
 * What is read anew waits while a finger is down. It may move everything on the screen, and what moves from under a finger is not pressed: the browser then sees
 * that one thing was touched and another left, and tells of neither.
 */
export class Press {
  private waiting: (() => void)[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** @param page where pointers are heard */
  constructor(page: EventTarget) {
    page.addEventListener('pointerdown', () => this.holdFor(longestMs), { capture: true });
    for (const end of ['pointerup', 'pointercancel'])
      page.addEventListener(end, () => this.timer && this.holdFor(clickMs), { capture: true });
  }

  /** Shows what was read: soon, or once the press is over. */
  readonly show = (update: () => void): void => {
    if (this.timer) this.waiting.push(update);
    else setTimeout(update, 0);
  };

  private holdFor(ms: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.end(), ms);
  }

  private end(): void {
    this.timer = undefined;
    for (const update of this.waiting.splice(0)) update();
  }
}

/** For all that is read of the server. */
export const holdUpdatesWhilePressed = (): void => notifyManager.setScheduler(new Press(window).show);
