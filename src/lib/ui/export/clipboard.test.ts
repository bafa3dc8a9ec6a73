import { expect, test } from 'vitest';
import { htmlTable, tabSeparated } from './clipboard';

const rows = [
	['=HYPERLINK("x")', '@SUM(A1)', '＝1', 'a\tb'],
	[-5, 1.25, null, 'Rack'],
] as const;

test('what is copied holds no text that another program would run, and figures in the reader’s mark', () => {
	expect(tabSeparated(rows, ',')).toBe(`'=HYPERLINK("x")\t'@SUM(A1)\t'＝1\ta b\n-5\t1,25\t\tRack`);
	expect(htmlTable(rows, '.')).toContain(`<td>'=HYPERLINK(&quot;x&quot;)</td>`);
	expect(htmlTable(rows, '.')).not.toMatch(/<td>[=@＝]/);
});
