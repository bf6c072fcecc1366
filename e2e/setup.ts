/** What all end-to-end tests share: the music of the demo. */
import { makeDemoMusic } from './app.ts';

export default function setup(): void {
  makeDemoMusic();
}
