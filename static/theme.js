// Before the first paint, so that a dark room stays dark.
const kept = localStorage.getItem('ventrel-theme');
const dark = kept ? kept === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
document.documentElement.classList.toggle('dark', dark);
