/** A database that dies just as a connection is made: its last words come with its welcome. */
import { afterEach, expect, test } from '@jest/globals';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { connect } from './database.ts';

/** A message of PostgreSQL's protocol: a letter, the length, the content. */
function message(letter: string, content: Buffer): Buffer {
  const length = Buffer.alloc(4);
  length.writeInt32BE(content.length + 4);
  return Buffer.concat([Buffer.from(letter), length, content]);
}
const WELCOME = [message('R', Buffer.alloc(4)), message('Z', Buffer.from('I'))];
const LAST_WORDS = message(
  'E',
  Buffer.from('SFATAL\0C57P01\0Mterminating connection due to unexpected postmaster exit\0\0'),
);

let server: Server | undefined;
afterEach(() => void server?.close());

test('both in one piece of data are a refusal, and nothing that ends the process', async () => {
  server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.once('data', () => socket.end(Buffer.concat([...WELCOME, LAST_WORDS])));
  });
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  await expect(connect(`postgres://app@127.0.0.1:${port}/app`)).rejects.toThrow();
});
