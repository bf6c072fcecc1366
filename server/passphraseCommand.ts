/** `npm run passphrase`: sets the passphrase with which one signs in from elsewhere, or takes it away. */
export { forgetPassphrase, keepPassphrase, keptPassphrase, whyNot } from './access/passphrase.ts';
