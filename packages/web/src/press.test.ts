import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Press } from './press';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** A page, what it has shown, and what a finger does to it. */
function begin() {
  const page = new EventTarget();
  const press = new Press(page);
  const shown: string[] = [];
  const read = (words: string): void => press.show(() => shown.push(words));
  const finger = (does: 'down' | 'up' | 'cancel'): boolean => page.dispatchEvent(new Event(`pointer${does}`));
  return { shown, read, finger };
}

it('what is read is shown at once while nothing is pressed', () => {
  const { shown, read } = begin();
  read('a');
  vi.advanceTimersByTime(0);
  expect(shown).toEqual(['a']);
});

it('what comes between down and up waits until the press is told, in the order in which it came', () => {
  const { shown, read, finger } = begin();
  finger('down');
  read('a');
  vi.advanceTimersByTime(200);
  finger('up');
  read('b');
  vi.advanceTimersByTime(10);
  expect(shown).toEqual([]);
  vi.advanceTimersByTime(30);
  expect(shown).toEqual(['a', 'b']);
  read('c');
  vi.advanceTimersByTime(0);
  expect(shown).toEqual(['a', 'b', 'c']);
});

it('a button that is kept down, or a finger whose lifting nobody hears, holds nothing up', () => {
  const { shown, read, finger } = begin();
  finger('down');
  read('a');
  vi.advanceTimersByTime(600);
  expect(shown).toEqual(['a']);
  read('b');
  vi.advanceTimersByTime(0);
  finger('up');
  read('c');
  vi.advanceTimersByTime(0);
  expect(shown).toEqual(['a', 'b', 'c']);
});

it('a press that turns into scrolling is over', () => {
  const { shown, read, finger } = begin();
  finger('down');
  read('a');
  finger('cancel');
  vi.advanceTimersByTime(40);
  expect(shown).toEqual(['a']);
});
