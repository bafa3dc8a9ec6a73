import fc from 'fast-check';
import { LONG } from './runs';

// Properties are tried on the same cases in every `npm test`: one that fails failed through a change. Long runs draw new ones.
if (!LONG) fc.configureGlobal({ seed: 4680 });
