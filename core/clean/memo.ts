/**
 * Texts come again and again in a library: artists, albums, genres, remarks. What was made of one is kept for the
 * next.
 */
export function remembering<T>(make: (text: string) => T): (text: string) => T {
  const made = new Map<string, T>();
  return (text) => {
    let value = made.get(text);
    if (value === undefined && !made.has(text)) {
      value = make(text);
      made.set(text, value);
    }
    return value as T;
  };
}
