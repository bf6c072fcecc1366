import { describe, expect, test } from '@jest/globals';
import { writeReportCsv, writeReportHtml, writeReportText } from '../exchange/report.ts';
import { airplayReport, readPlayoutLog, type PlayoutLog } from './playoutLog.ts';

const read = (text: string): PlayoutLog => {
  const log = readPlayoutLog(text);
  if (typeof log === 'string') throw new Error(log);
  return log;
};
const at = (text: string): number => new Date(text).getTime() / 1000;

describe('a playout log', () => {
  test('is read by the names of its columns, in whatever order and between whatever marks', () => {
    const text = '\uFEFFTitle;TIME;Artist;Seconds;other\r\nLamp Room;2026-12-01 19:02:31;Vesna Rook;4:12;x\r\n';
    expect(read(text).lines).toEqual([
      {
        line: 2,
        at: at('2026-12-01T19:02:31'),
        title: 'Lamp Room',
        artist: 'Vesna Rook',
        seconds: 252,
        playoutId: null,
        path: null,
      },
    ]);
    expect(read('time,playout ID\n2026-12-01T19:02Z,17').lines[0]).toMatchObject({
      at: at('2026-12-01T19:02:00Z'),
      playoutId: 17,
    });
    expect(read('time\tpath\n2026-12-01T19:02:31+01:00\tC:\\Music\\a.wav').lines[0]).toMatchObject({
      at: at('2026-12-01T18:02:31Z'),
      path: 'C:\\Music\\a.wav',
    });
  });
  test('lines without a time are named, the rest is read', () => {
    const { lines, problems } = read('time,title,seconds\nsoon,A,\n2026-12-01T19:00,"B, or not",-3\n\n');
    expect(lines.map((l) => [l.title, l.seconds])).toEqual([['B, or not', null]]);
    expect(problems).toEqual([{ line: 2, reason: '"soon" is no time' }]);
  });
  test.each([
    ['', 'The log has no column "time"'],
    ['time,weather\n', 'The log has neither a column "title" nor "playout ID" nor "path"'],
  ])('what is none is said: %j', (text, why) => {
    expect(readPlayoutLog(text)).toBe(why);
  });
});

test('a report is written as a page, as text and as CSV, and nothing in it is taken for more than text', () => {
  const report = airplayReport('2026-12', [
    {
      title: '=<b>Lamp & Room',
      artist: 'Vesna Rook',
      composer: '',
      label: 'North',
      isrc: '',
      times: 12,
      seconds: 251.6,
    },
    { title: 'Eel', artist: 'Odette Kassar', composer: '', label: '', isrc: '', times: 1, seconds: 80 },
  ]);
  expect(report.note).toBe('2 tracks, 13 times on air');
  expect(writeReportHtml(report)).toContain('<td>=&lt;b&gt;Lamp &amp; Room</td>');
  expect(writeReportCsv(report).split('\r\n').slice(0, 3)).toEqual([
    'Title,Artists,Composer,Label,ISRC,Times,Seconds',
    "'=<b>Lamp & Room,Vesna Rook,,North,,12,252",
    'Eel,Odette Kassar,,,,1,80',
  ]);
  const lines = writeReportText(report).split('\n');
  expect(lines.slice(3, 6)).toEqual([
    'Title            Artists        Composer  Label  ISRC  Times  Seconds',
    '=<b>Lamp & Room  Vesna Rook               North           12      252',
    'Eel              Odette Kassar                             1       80',
  ]);
});
