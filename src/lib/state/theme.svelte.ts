const KEY = 'lectorum-theme';

/** The theme in force, kept for the next visit. `static/theme.js` sets it before the first paint. */
class Theme {
  dark = $state(typeof document !== 'undefined' && document.documentElement.dataset.theme === 'lamp');

  toggle(): void {
    this.dark = !this.dark;
    const name = this.dark ? 'lamp' : 'chalk';
    document.documentElement.dataset.theme = name;
    localStorage.setItem(KEY, name);
  }
}

export const theme = new Theme();
