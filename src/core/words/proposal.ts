import type { Note } from '../contract/note';

const percent = (share: number) => `${Math.round(100 * share)} %`;

/** What a mix is made of. */
export function mixNote(parts: readonly (readonly [name: string, share: number])[]): Note {
	const [first, ...rest] = parts;
	const said =
		rest.length === 0
			? `${first![0]} alone did well enough on earlier periods to be proposed.`
			: `A mix of ${parts.length} methods, each by how close it came on earlier periods: ${parts
					.slice(0, 3)
					.map(([name, share]) => `${name} ${percent(share)}`)
					.join(', ')}${parts.length > 3 ? ` and ${parts.length - 3} more` : ''}.`;
	return { code: 'proposal-mix', text: said, figures: { parts: parts.length, share: first![1] } };
}

/** That nothing beats repeating the last actual. */
export function naiveNote(origins: number): Note {
	return {
		code: 'proposal-naive',
		text:
			origins === 0
				? 'Too few periods to try methods on earlier ones: the last actual is repeated until there are more.'
				: `From ${origins} earlier ${origins === 1 ? 'period' : 'periods'} no mix was closer than repeating the last actual by more than the noise in that: so that is proposed.`,
		figures: { origins },
	};
}

/** How many did as well as the best, and how little that says of the next time. */
export function asGoodNote(good: number, of: number): Note {
	return {
		code: 'proposal-as-good',
		text:
			good > 1
				? `${good} of ${of} methods were as good within the noise. Which one is best changes about every second time with new periods; a mix changes less.`
				: `One of ${of} methods was better than all others by more than the noise. Even so the best one changes about every second time with new periods; a mix changes less.`,
		figures: { good, of },
	};
}
