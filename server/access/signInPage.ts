/** The only page that a stranger sees: it needs nothing else of the application. */
const STYLE = `:root{color-scheme:light dark;--fog:#E7ECEE;--paper:#F8FAF9;--ink:#0F2A33;--dim:#4F666F;--line:#C9D4D7;
--buoy:#C0370D;--on:#fff;--flare:#B4152B}
@media(prefers-color-scheme:dark){:root{--fog:#0E1B21;--paper:#13242B;--ink:#E7ECEE;--dim:#9FB3BA;--line:#2B434D;
--buoy:#FF6B3D;--on:#0E1B21;--flare:#FF7A8A}}
*{box-sizing:border-box}body{margin:0;min-height:100vh;display:grid;place-items:center;background:var(--fog);
color:var(--ink);font:16px system-ui,sans-serif}
main{width:min(22rem,calc(100vw - 2rem));padding:1.5rem;background:var(--paper);border:1px solid var(--line)}
h1{margin:0 0 1rem;font-size:1.25rem}label{display:block;margin-bottom:.35rem;font-weight:600}
input{width:100%;height:2.75rem;padding:0 .6rem;border:1px solid var(--line);background:transparent;color:inherit;
font:inherit}button{width:100%;height:2.75rem;margin-top:1rem;border:0;background:var(--buoy);color:var(--on);
font:inherit;font-weight:600;cursor:pointer}p{margin:.75rem 0 0;color:var(--dim);font-size:.875rem}
p[role=alert]{color:var(--flare);font-weight:600}`;

/** Where one wanted to go, as long as that is a page of ours. */
export const pageAfter = (wanted: unknown): string =>
  typeof wanted === 'string' && wanted.length < 2000 && /^\/(?![/\\])[\w\-./?=&%+]*$/.test(wanted) ? wanted : '/';

/**
 * @param said why it did not come about; own words, never what was typed
 * @param wanted where one goes afterwards
 */
export const signInPage = (said: string | null, wanted: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<meta name="robots" content="noindex"><title>Early Set: sign in</title><style>${STYLE}</style></head>
<body><main><h1>Early Set</h1>
<form method="post" action="/sign-in"><input type="hidden" name="then" value="${pageAfter(wanted).replaceAll('&', '&amp;')}">
<label for="passphrase">Passphrase</label>
<input id="passphrase" name="passphrase" type="password" autocomplete="current-password" required autofocus>
<button>Sign in</button>
${said === null ? '' : `<p role="alert">${said}</p>`}
<p>It was set with <code>npm run passphrase</code> on the computer where Early Set runs.</p>
</form></main></body></html>
`;
