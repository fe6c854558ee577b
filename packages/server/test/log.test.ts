import { DatabaseError } from 'sequelize';
import { describe, expect, it } from 'vitest';
import { createLog } from '../src/log';

describe('the log', () => {
  it('keeps what happened and leaves out what was written', () => {
    let text = '';
    const log = createLog('warn', { write: (line: string) => void (text += line) });
    const parent = Object.assign(new Error('value too long'), {
      sql: `INSERT INTO sheet VALUES ('quay-secret-1')`,
      parameters: ['quay-secret-2'],
    });
    const error = new DatabaseError(parent);
    log.error({ err: error, path: '/api/links/x/sheets' }, 'request failed');
    expect(text).toContain('value too long');
    expect(text).toContain('request failed');
    expect(text).toContain('/api/links/x/sheets');
    expect(text).not.toContain('quay-secret');
  });

  it('takes anything that was thrown', () => {
    let text = '';
    createLog('warn', { write: (line: string) => void (text += line) }).error({ err: 'a word' }, 'failed');
    expect(text).toContain('a word');
  });
});
