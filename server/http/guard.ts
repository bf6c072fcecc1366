/** Who may talk to the server: pages it served itself, addressed by a loopback name. */
import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { Problem } from '../base/problem.ts';

/**
 * Refuses requests with another host name (a page elsewhere that resolves its own name to this machine)
 * or from another origin.
 */
export function loopbackOnly(port: () => number): RequestHandler {
  return (request, _response, next) => {
    const hosts = ['127.0.0.1', 'localhost', '[::1]'].map((h) => `${h}:${port()}`);
    if (!hosts.includes(request.headers.host ?? ''))
      throw new Problem(403, 'wrong-host', 'Early Set answers only on this machine');
    const { origin } = request.headers;
    if (origin !== undefined && !hosts.some((h) => origin === `http://${h}`))
      throw new Problem(403, 'wrong-origin', 'Another page asked for this; it was refused');
    const site = request.headers['sec-fetch-site'];
    const reads = request.method === 'GET' || request.method === 'HEAD';
    // The page may be opened from anywhere; what it is fed with, sound and pictures too, is for itself only.
    const mayBe = !reads ? ['same-origin'] : request.path.startsWith('/api') ? ['same-origin', 'none'] : null;
    if (site !== undefined && mayBe && !mayBe.includes(String(site)))
      throw new Problem(403, 'wrong-origin', 'Another page asked for this; it was refused');
    next();
  };
}

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
