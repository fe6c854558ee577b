import { requestLimits } from '@kivram/contract/plain';
import { ApiProblem } from './apiProblem';

const [quote, backslash, comma, openList, closeList, openObject, closeObject] = [...'"\\,[]{}'].map((c) =>
  c.charCodeAt(0),
);

/** How deep a piece of JSON goes and about how many values it holds, without reading it: a few megabytes of "{}," would become hundreds in memory. */
export function sizeOfJson(bytes: Uint8Array): { depth: number; values: number } {
  let depth = 0;
  let deepest = 0;
  let values = 1;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (byte === quote) {
      for (i++; i < bytes.length && bytes[i] !== quote; i++) if (bytes[i] === backslash) i++;
    } else if (byte === comma) values++;
    else if (byte === openList || byte === openObject) {
      values++;
      if (++depth > deepest) deepest = depth;
    } else if (byte === closeList || byte === closeObject) depth--;
  }
  return { depth: deepest, values };
}

/** Refuses a body that holds more than any request does, before it is taken apart. */
export function refuseBulky(_request: unknown, _response: unknown, bytes: Uint8Array): void {
  const { depth, values } = sizeOfJson(bytes);
  if (depth <= requestLimits.depth && values <= requestLimits.values) return;
  throw new ApiProblem(
    422,
    'Not valid',
    `The request holds ${values} values, ${depth} deep; more than ${requestLimits.values}, or ${requestLimits.depth} deep, are in none.`,
  );
}
