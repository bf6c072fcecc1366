import type { Response } from 'express';
import { Router } from 'express';
import Joi from 'joi';
import { writeReportCsv, writeReportHtml, writeReportText, type Report } from '@early-set/core/exchange/report';
import { airplayReport } from '@early-set/core/hours/playoutLog';
import { runningOrder } from '@early-set/core/hours/runningOrder';
import { airplayOf, readLog } from '../../hours/airplay.ts';
import { hourContents } from '../../hours/hours.ts';
import { writeReportWorkbook } from '../../hours/reportWorkbook.ts';
import type { Context } from '../context.ts';
import { route } from '../validate.ts';

const FORMATS = ['html', 'txt', 'csv', 'xlsx'] as const;
type Format = (typeof FORMATS)[number];
const TYPES: Record<Format, string> = {
  html: 'text/html; charset=utf-8',
  txt: 'text/plain; charset=utf-8',
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};
const format = Joi.valid(...FORMATS).required();
/** Characters of a log. */
const MAX_LOG = 20_000_000;
const month = Joi.string()
  .pattern(/^[12]\d{3}-(0[1-9]|1[0-2])$/)
  .required();

/** A page is shown, so that it can be printed; everything else is a download. */
async function send(response: Response, report: Report, as: Format): Promise<void> {
  const name = `${report.name.replace(/[^\p{L}\p{N} .,-]+/gu, '-')}.${as}`;
  if (as !== 'html') response.attachment(name);
  response.type(TYPES[as]);
  if (as === 'xlsx') response.end(Buffer.from(await writeReportWorkbook(report)));
  else response.end({ html: writeReportHtml, txt: writeReportText, csv: writeReportCsv }[as](report));
}

/** Running orders, playout logs and what was on air. */
export function airplayRoutes({ database, changing }: Context): Router {
  const router = Router();
  router.get(
    '/hours/:id/running-order/:format',
    route<{ id: string; format: Format }>(
      { params: Joi.object({ id: Joi.string().guid().required(), format }) },
      async ({ params, response }) =>
        send(response, runningOrder(await hourContents(database, params.id)), params.format),
    ),
  );
  router.post(
    '/airings',
    route<unknown, unknown, { name: string; text: string }>(
      { body: Joi.object({ name: Joi.string().max(300).required(), text: Joi.string().max(MAX_LOG).required() }) },
      ({ body }) => readLog(changing, body.name, body.text),
    ),
  );
  router.get(
    '/airings/:month',
    route<{ month: string }>({ params: Joi.object({ month }) }, ({ params }) => airplayOf(database, params.month)),
  );
  router.get(
    '/airings/:month/:format',
    route<{ month: string; format: Format }>({ params: Joi.object({ month, format }) }, async ({ params, response }) =>
      send(response, airplayReport(params.month, (await airplayOf(database, params.month)).lines), params.format),
    ),
  );
  return router;
}
