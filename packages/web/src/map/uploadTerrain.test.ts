import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { linesOf, uploadTerrain, type UploadState } from './uploadTerrain';

/** An XMLHttpRequest that a test plays the server of. */
class FakeRequest {
  static last: FakeRequest;
  upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
  responseText = '';
  url = '';
  onprogress?: () => void;
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  constructor() {
    FakeRequest.last = this;
  }
  open(_method: string, url: string): void {
    this.url = url;
  }
  setRequestHeader(): void {}
  send(): void {}
  abort(): void {
    this.onabort?.();
  }
  answer(text: string): void {
    this.responseText += text;
    this.onprogress?.();
  }
}

beforeEach(() => vi.stubGlobal('XMLHttpRequest', FakeRequest));
afterEach(() => vi.unstubAllGlobals());

const file = new File(['x'], 'isles.tif');
function start(epsg = '') {
  const states: UploadState[] = [];
  const upload = uploadTerrain(file, epsg, (state) => states.push(state));
  return { states, upload, request: FakeRequest.last };
}

describe('a terrain upload', () => {
  it('follows sending, then reading, to the end', async () => {
    const { states, upload, request } = start('EPSG:32624');
    expect(request.url).toBe('/api/terrain/uploads?name=isles.tif&epsg=32624');
    request.upload.onprogress?.({ loaded: 5, total: 10 });
    request.answer('{"type":"progress","share":0.25}\n{"type":"prog');
    request.answer('ress","share":0.75}\n');
    request.responseText += '{"type":"done","file":{"id":"1"}}\n';
    request.onload?.();
    expect(await upload.done).toEqual({ id: '1' });
    expect(states).toEqual([
      { phase: 'sending', share: 0 },
      { phase: 'sending', share: 0.5 },
      { phase: 'reading', share: 0.25 },
      { phase: 'reading', share: 0.75 },
    ]);
  });

  it('says why it failed, what an unreadable answer means, and that the server is gone', async () => {
    const refused = start();
    refused.request.responseText = '{"type":"failed","detail":"It holds nothing but voids."}\n';
    refused.request.onload?.();
    await expect(refused.upload.done).rejects.toThrow('nothing but voids');
    const empty = start();
    empty.request.onload?.();
    await expect(empty.upload.done).rejects.toThrow('unreadable');
    const gone = start();
    gone.request.onerror?.();
    await expect(gone.upload.done).rejects.toThrow('does not answer');
  });

  it('can be given up', async () => {
    const { upload } = start();
    upload.cancel();
    await expect(upload.done).rejects.toThrow('isles.tif: given up, nothing was kept of it.');
  });

  it('refuses a projection that is no code before anything is sent', async () => {
    await expect(start('somewhere').upload.done).rejects.toThrow('"somewhere" is no projection code');
  });

  it('reads complete lines only', () => {
    expect(linesOf('{"type":"progress","share":0.1}\n{"type"')).toEqual([{ type: 'progress', share: 0.1 }]);
    expect(linesOf('')).toEqual([]);
  });
});
