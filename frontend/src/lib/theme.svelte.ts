export type Theme = 'paper' | 'dusk';
const KEY = 'delgrun-theme';

class ThemeState {
  name = $state<Theme>(localStorage.getItem(KEY) === 'dusk' ? 'dusk' : 'paper');

  apply(): void {
    document.documentElement.dataset.theme = this.name;
  }

  toggle(): void {
    this.name = this.name === 'paper' ? 'dusk' : 'paper';
    localStorage.setItem(KEY, this.name);
    this.apply();
  }
}

/** Light or dark, remembered in this browser. Drawings read `name`, so that a change draws them again. */
export const theme = new ThemeState();
