/** A report as a workbook (XLSX). */
import type { Report } from '@early-set/core/exchange/report';
import { oneLine } from '@early-set/core/exchange/text';
import { sheetName } from '../lists/workbook.ts';

const WIDEST = 60;

export async function writeReportWorkbook({ name, columns, rows }: Report): Promise<Uint8Array> {
  const { default: exceljs } = await import('exceljs'); // slow to load
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet(sheetName(name), { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = columns.map(({ name: header, figures }, i) => ({
    header,
    key: String(i),
    width: Math.min(WIDEST, Math.max(header.length, ...rows.map((r) => String(r[i] ?? '').length)) + 2),
    style: { alignment: { horizontal: figures ? 'right' : 'left' } },
  }));
  sheet.getRow(1).font = { bold: true };
  for (const cells of rows) sheet.addRow(cells.map((c) => (typeof c === 'string' ? oneLine(c) : c)));
  return new Uint8Array(await book.xlsx.writeBuffer());
}
