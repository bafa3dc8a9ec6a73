/** Light or dark, kept in the browser. The class on the root element is set before the first paint. */
class Theme {
	name: 'light' | 'dark' = $state('light');

	/** Takes over what the page was painted with. */
	adoptPainted(): void {
		this.name = document.documentElement.classList.contains('dark') ? 'dark' : 'light';
	}

	toggle(): void {
		this.name = this.name === 'dark' ? 'light' : 'dark';
		document.documentElement.classList.toggle('dark', this.name === 'dark');
		localStorage.setItem('ventrel-theme', this.name);
	}
}

export const theme = new Theme();
