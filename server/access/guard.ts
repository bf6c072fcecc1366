/** Who may talk to the server: pages it served itself. */
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { Problem } from '../base/problem.ts';

/** Refuses what does not come from a page of this very server, addressed by a loopback name. */
export const loopbackOnly = (port: () => number): RequestHandler =>
  fromItself((host) => ['127.0.0.1', 'localhost', '[::1]'].some((h) => host === `${h}:${port()}`));

/**
 * Refuses requests with another host name (a page elsewhere that resolves its own name to this machine)
 * or from another origin.
 * @param isOwn may it be asked under this host name?
 * @param strictly what changes something has to say where it comes from, as browsers do
 */
export function fromItself(isOwn: (host: string) => boolean, strictly = false): RequestHandler {
  return (request, _response, next) => {
    const { host = '', origin } = request.headers;
    if (!isOwn(host)) throw new Problem(403, 'wrong-host', 'Early Set does not answer under this name');
    if (origin !== undefined && !/^https?:\/\//.test(origin)) throw elsewhere();
    if (origin !== undefined && !isOwn(origin.replace(/^https?:\/\//, ''))) throw elsewhere();
    const site = request.headers['sec-fetch-site'];
    const reads = request.method === 'GET' || request.method === 'HEAD';
    // The page may be opened from anywhere; what it is fed with, sound and pictures too, is for itself only.
    const mayBe = !reads ? ['same-origin'] : request.path.startsWith('/api') ? ['same-origin', 'none'] : null;
    if (site !== undefined && mayBe && !mayBe.includes(String(site))) throw elsewhere();
    if (strictly && !reads && site === undefined && origin === undefined) throw elsewhere();
    next();
  };
}
const elsewhere = (): Problem => new Problem(403, 'wrong-origin', 'Another page asked for this; it was refused');

/**
 * Headers that keep the page to itself. WebAssembly may be compiled, for measuring in the browser. Styles may be
 * inline because charts and floating parts position themselves so; scripts may not.
 */
export const securityHeaders: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'data:', 'blob:'],
      fontSrc: ["'self'"],
      connectSrc: ["'self'"],
      mediaSrc: ["'self'", 'blob:'],
      workerSrc: ["'self'"],
      manifestSrc: ["'self'"],
      formAction: ["'none'"],
      frameAncestors: ["'none'"],
      baseUri: ["'none'"],
    },
  },
  strictTransportSecurity: false,
  crossOriginEmbedderPolicy: false,
});
