import { createServer, connect as connectTo, type AddressInfo, type Server } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openDatabase } from '../src/database/connection';
import { databaseNamed } from './template';

/** A message of PostgreSQL's protocol, version 3: its letter, its length with the length's own four bytes, what it says. */
function message(letter: string, body: Buffer): Buffer {
  const length = Buffer.alloc(4);
  length.writeInt32BE(body.length + 4);
  return Buffer.concat([Buffer.from(letter), length, body]);
}

const letIn = message('R', Buffer.alloc(4));
const ready = message('Z', Buffer.from('I'));
/** SQLSTATE 57P01, as a process of the database says that finds itself alone. */
const alone = message(
  'E',
  Buffer.from(['SFATAL', 'C57P01', 'Mterminating connection due to unexpected postmaster exit', '', ''].join('\0')),
);

/** In front of the database: the first who comes is let in, and told in the same breath that the database has died. Later ones get through. */
let door: Server;
let came = 0;
beforeAll(async () => {
  const database = new URL(databaseNamed('postgres'));
  door = createServer((socket) => {
    came++;
    if (came === 1) socket.once('data', () => socket.end(Buffer.concat([letIn, ready, alone])));
    else socket.pipe(connectTo(Number(database.port), database.hostname)).pipe(socket);
  });
  await new Promise<void>((resolve) => door.listen(0, '127.0.0.1', resolve));
});
afterAll(() => new Promise((resolve) => door.close(resolve)));

it('a database that dies just as a connection is there ends neither this program nor what is asked later', async () => {
  const address = new URL(databaseNamed('postgres'));
  address.port = String((door.address() as AddressInfo).port);
  const sequelize = openDatabase(address.toString(), { pool: { max: 1 } });
  await expect(sequelize.query('SELECT 1')).rejects.toThrow();
  await expect(sequelize.query('SELECT 1 AS one', { plain: true })).resolves.toEqual({ one: 1 });
  expect(came).toBe(2);
  await sequelize.close();
});
