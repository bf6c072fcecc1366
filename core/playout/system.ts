/** What playout systems ask for, and where in their folder things lie. A further one is a record like this. */
export interface PlayoutSystem {
  name: string;
  /** Loudness of every item, in LUFS, under a ceiling for true peaks in dBTP. */
  lufs: number;
  ceilingDbtp: number;
  hertz: number;
  /** Digits of an ID, with noughts in front. */
  idDigits: number;
  /** Items, and their catalogue, as it finds them. */
  items: string;
  catalogue: string;
  /** Hours that are to be played, and days as they were on air. */
  logs: string;
  played: string;
}

export const TURNSTONE: PlayoutSystem = {
  name: 'Turnstone',
  ...{ lufs: -23, ceilingDbtp: -1, hertz: 48_000, idDigits: 6 },
  ...{ items: 'drop', catalogue: 'drop/catalogue.csv', logs: 'logs', played: 'played' },
};
