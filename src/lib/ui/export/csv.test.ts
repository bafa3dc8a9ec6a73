import { expect, test } from 'vitest';
import { csv } from './csv';

test('texts that begin like formulas cannot run, numbers stay numbers, quotes are kept', () => {
	expect(
		csv([
			['=1+1', '@x', '-5 per cent', 'a "b", c'],
			['a;=1+1', '＝1', 'x|y', 'a\tb'],
			[-5, 1.25, null, 0],
		]),
	).toBe(`'=1+1,'@x,'-5 per cent,"a ""b"", c"\r\n"a;=1+1",'＝1,"x|y","a\tb"\r\n-5,1.25,,0\r\n`);
});
