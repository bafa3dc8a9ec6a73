/** Origins that a trial goes back to at the most, unless told otherwise. */
export const USUAL_ORIGINS = 36;
