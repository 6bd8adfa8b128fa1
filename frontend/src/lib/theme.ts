export type Theme = 'paper' | 'dusk';
const KEY = 'delgrun-theme';

export function storedTheme(): Theme {
  return localStorage.getItem(KEY) === 'dusk' ? 'dusk' : 'paper';
}

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
  localStorage.setItem(KEY, theme);
}
