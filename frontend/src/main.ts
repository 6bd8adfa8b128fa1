import { mount } from 'svelte';
import App from './App.svelte';
import './app.css';
import { theme } from './lib/theme.svelte';

theme.apply();
const target = document.getElementById('app');
if (target) mount(App, { target });
