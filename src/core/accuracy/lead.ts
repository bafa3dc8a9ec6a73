/** What a lead is, and when it is more than chance; `paired.ts` finds leads. */

/** What an error counts for: its size; of rare demand its square, since by sizes a forecast of nothing would win. */
export type Loss = 'size' | 'square';

export const lossOf = (error: number, by: Loss): number =>
	by === 'square' ? error * error : Math.abs(error);

/** How much less one forecast misses than another over the same periods, and how much of that noise may be. */
export interface PairedLead {
	/** Mean of what the errors of the other count for less those of the one; above 0 where the one misses less. */
	lead: number;
	/** Half the width of the 95 % interval of that mean; null for fewer than `LEAST_PAIRS` periods. */
	noise: number | null;
	count: number;
	/** Whether both say the same in every period, rounding apart. */
	same: boolean;
}

/** Fewer pairs than these tell nothing. */
export const LEAST_PAIRS = 6;

/** How much closer one forecast came than another from the same origins: lead and noise are of logs of ratios. */
export interface ShareLead extends PairedLead {
	/** How much less the one misses by over all of them, as a share; below 0 where it misses by more. */
	gain: number;
}

/** A difference of less than this share of the error is none that matters. */
const LEAST_GAIN = 0.01;

/** Whether a lead is more than chance; one by the share of errors has to matter, and to say the same over all of them. */
export const isClear = ({ lead, noise, gain }: PairedLead & Partial<ShareLead>): boolean =>
	noise !== null &&
	Math.abs(lead) > noise &&
	(gain === undefined || (lead * gain > 0 && Math.abs(gain) >= LEAST_GAIN));

/** Of many that are compared, so many times the noise is called clear. */
const TIMES_OVER_MANY = 2;

/** Whether one of many compared is clearly closer (`npm run bench -- gains` says how often that is wrong, and how often it is not said). */
export const isClearlyCloser = (lead: ShareLead): boolean =>
	isClear(lead) && lead.lead > TIMES_OVER_MANY * lead.noise!;
