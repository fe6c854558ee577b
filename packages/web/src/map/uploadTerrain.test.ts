import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { carryToken } from '../api';
import { uploadTerrain, type UploadState } from './uploadTerrain';

/** An XMLHttpRequest that a test plays the server of. */
class FakeRequest {
  static last: FakeRequest;
  upload: { onprogress?: (event: { loaded: number; total: number }) => void; onload?: () => void } = {};
  response: unknown = null;
  status = 0;
  url = '';
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  constructor() {
    FakeRequest.last = this;
  }
  open(_method: string, url: string): void {
    this.url = url;
  }
  headers: Record<string, string> = {};
  setRequestHeader(name: string, value: string): void {
    this.headers[name] = value;
  }
  send(): void {}
  abort(): void {
    this.onabort?.();
  }
  answer(status: number, response: unknown): void {
    this.status = status;
    this.response = response;
    this.onload?.();
  }
}

let asked: string[] = [];
let answering: Promise<unknown> = Promise.resolve();
beforeEach(() => {
  asked = [];
  answering = Promise.resolve();
  vi.useFakeTimers();
  vi.stubGlobal('XMLHttpRequest', FakeRequest);
  vi.stubGlobal('fetch', (url: string) => {
    asked.push(url);
    return Promise.resolve({ json: () => answering.then(() => ({ share: asked.length / 4 })) });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const file = new File(['x'], 'isles.tif');
function start(epsg = '') {
  const states: UploadState[] = [];
  const upload = uploadTerrain(file, epsg, (state) => states.push(state));
  return { states, upload, request: FakeRequest.last };
}

describe('a terrain upload', () => {
  it('carries the token of the session, as every change over the network does', async () => {
    carryToken('of-this-session');
    const { upload, request } = start();
    carryToken(null);
    expect(request.headers['kivram-token']).toBe('of-this-session');
    request.answer(200, {});
    await upload.done;
  });

  it('follows sending, then reading, to the end, and asks no more after it', async () => {
    const { states, upload, request } = start('EPSG:32624');
    const query = new URL(request.url, 'http://here').searchParams;
    expect([query.get('name'), query.get('epsg')]).toEqual(['isles.tif', '32624']);
    request.upload.onprogress?.({ loaded: 5, total: 10 });
    request.upload.onload?.();
    await vi.advanceTimersByTimeAsync(900);
    expect(asked).toEqual(Array(2).fill(`/api/terrain/uploads/${query.get('upload')}`));
    request.answer(200, { id: '1' });
    expect(await upload.done).toEqual({ id: '1' });
    await vi.advanceTimersByTimeAsync(2000);
    expect(asked).toHaveLength(2);
    expect(states).toEqual([
      { phase: 'sending', share: 0 },
      { phase: 'sending', share: 0.5 },
      { phase: 'reading', share: 0.25 },
      { phase: 'reading', share: 0.5 },
    ]);
  });

  it('says why it failed, what an unreadable answer means, and that the server is gone', async () => {
    const refused = start();
    refused.request.answer(422, { detail: 'It holds nothing but voids.' });
    await expect(refused.upload.done).rejects.toThrow('nothing but voids');
    const empty = start();
    empty.request.answer(502, null);
    await expect(empty.upload.done).rejects.toThrow('unreadable');
    const gone = start();
    gone.request.onerror?.();
    await expect(gone.upload.done).rejects.toThrow('does not answer');
  });

  it('tells nothing more once it is over, though an answer was still on its way', async () => {
    let answer = (): void => undefined;
    answering = new Promise<void>((resolve) => (answer = resolve));
    const { states, upload, request } = start();
    request.upload.onload?.();
    await vi.advanceTimersByTimeAsync(500);
    request.answer(422, { detail: 'It holds nothing but voids.' });
    await expect(upload.done).rejects.toThrow('nothing but voids');
    answer();
    await vi.advanceTimersByTimeAsync(500);
    expect(asked).toHaveLength(1);
    expect(states).toEqual([{ phase: 'sending', share: 0 }]);
  });

  it('can be given up', async () => {
    const { upload } = start();
    upload.cancel();
    await expect(upload.done).rejects.toThrow('isles.tif: given up, nothing was kept of it.');
  });

  it('refuses a projection that is no code before anything is sent', async () => {
    await expect(start('somewhere').upload.done).rejects.toThrow('"somewhere" is no projection code');
  });
});
