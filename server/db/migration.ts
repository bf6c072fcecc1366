/** One step of the schema: SQL statements made together or not at all. */
export interface Migration {
  name: string;
  up: string[];
}
