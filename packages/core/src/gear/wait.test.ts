import { expect, it } from 'vitest';
import { waitWords } from './wait';

it('says how long a radio is left alone by its spec sheet, and what is usual where that is silent', () => {
  expect(waitWords({ bootS: 45, saveS: 5 })).toBe('starts in 45 s and saves in 5 s');
  expect(waitWords({ saveS: 5 })).toBe('may take 60 s to start (its spec sheet does not say) and saves in 5 s');
  expect(waitWords({})).toBe('may take 60 s to start and 180 s to save (its spec sheet does not say)');
});
