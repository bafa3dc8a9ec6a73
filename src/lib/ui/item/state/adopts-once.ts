/** Whether somebody adopted in this visit, so that it is known what that does. The tab keeps it. */
const KEY = 'ventrel-adopts';

/** Where no tab is, nobody is asked. */
export const adoptsInThisVisit = (): boolean =>
	typeof sessionStorage === 'undefined' || sessionStorage.getItem(KEY) !== null;

export const rememberAdopting = (): void => sessionStorage.setItem(KEY, 'yes');
