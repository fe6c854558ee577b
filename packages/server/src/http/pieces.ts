import type { Response } from 'express';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** Answers with JSON that comes in pieces, no faster than whoever asked takes them. What goes wrong before the first is still answered as a problem. */
export async function writePieces(
  pieces: AsyncGenerator<string>,
  response: Response,
  fileName?: string,
): Promise<void> {
  const first = await pieces.next();
  if (fileName) response.attachment(fileName);
  response.type('json');
  await pipeline(Readable.from(joined(first, pieces)), response);
}

async function* joined(first: IteratorResult<string, void>, rest: AsyncGenerator<string>): AsyncGenerator<string> {
  if (first.done) return;
  yield first.value;
  yield* rest;
}
