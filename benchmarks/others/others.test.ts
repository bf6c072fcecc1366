import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../../demo/synth/random.ts';
import { addMelody } from './melody.ts';
import { channelOf, isNoteOn, readMidi, writeMidi } from '../pieces/midiFile.ts';
import { chanceSheet, chordName, chordTones } from './sheets.ts';
import type { Arrangement } from './arrangement.ts';

describe('MIDI files', () => {
  const message = fc.record({
    seconds: fc.integer({ min: 0, max: 60_000 }).map((ms) => ms / 1000),
    bytes: fc.oneof(
      fc.tuple(
        fc.integer({ min: 0x80, max: 0xbf }),
        fc.integer({ min: 0, max: 127 }),
        fc.integer({ min: 0, max: 127 }),
      ),
      fc.tuple(fc.integer({ min: 0xc0, max: 0xdf }), fc.integer({ min: 0, max: 127 })),
    ),
  });
  test('what is written is read again, by time', () => {
    fc.assert(
      fc.property(fc.array(message), (messages) => {
        const read = readMidi(writeMidi(messages, 61));
        // Half a second a quarter.
        const said = read.map(({ at, bytes }) => JSON.stringify([Math.round(at * 500), bytes]));
        const meant = messages.map(({ seconds, bytes }) => JSON.stringify([Math.round(seconds * 1000), bytes]));
        expect(said.sort()).toEqual(meant.sort());
        expect(read.map((m) => m.at)).toEqual(read.map((m) => m.at).sort((a, b) => a - b));
      }),
    );
  });
  test('running status, names and system messages do not lead astray', () => {
    const track = [0, 0xff, 3, 2, 65, 66, 0, 0xf0, 1, 0xf7, 0, 0x90, 60, 100, 96, 60, 0, 0, 0xff, 0x2f, 0];
    const file = [77, 84, 104, 100, 0, 0, 0, 6, 0, 0, 0, 1, 0, 96, 77, 84, 114, 107, 0, 0, 0, track.length, ...track];
    expect(readMidi(Uint8Array.from(file))).toEqual([
      { at: 0, bytes: [0x90, 60, 100] },
      { at: 1, bytes: [0x90, 60, 0] },
    ]);
    expect(() => readMidi(new Uint8Array(20))).toThrow('This is no MIDI file');
  });
});

test('a clear sheet ends at home, and is as long as asked', () => {
  for (let seed = 0; seed < 200; seed++) {
    const mode = seed % 2 === 0 ? 'major' : 'minor';
    const { sections, clear } = chanceSheet(seeded(seed), mode, 24, 'folk');
    const chords = sections.flat();
    expect(chords.length).toBeGreaterThanOrEqual(24);
    if (clear) expect(chords.at(-1)).toEqual([0, mode === 'major' ? '' : 'm']);
  }
  expect(chordName(7, [5, 'm7'])).toBe('Cm7');
  expect(chordTones(9, [0, 'm'])).toEqual([9, 0, 4]);
});

test('a melody takes a free channel, keeps within the bars, and says its pick-up', () => {
  let pickups = 0;
  for (let seed = 0; seed < 100; seed++) {
    const chords = Array.from({ length: 16 }, (_, bar) => ({ at: 3 * bar, tones: [0, 4, 7] }));
    const bass = [{ at: 0, bytes: [0x90, 36, 90] }];
    const piece: Arrangement = { messages: bass, quarters: 48, quartersPerBeat: 1, beatsPerBar: 3, pickup: 0, chords };
    addMelody(piece, { tonic: 0, mode: 'major', random: seeded(seed) });
    const notes = piece.messages.filter((m) => channelOf(m) !== 0 && isNoteOn(m));
    expect(notes.length).toBeGreaterThan(8);
    expect(Math.min(...notes.map((n) => n.at))).toBeGreaterThanOrEqual(-piece.pickup);
    expect(Math.max(...notes.map((n) => n.at))).toBeLessThan(48);
    if (piece.pickup > 0) pickups++;
  }
  expect(pickups).toBeGreaterThan(20);
});
