import '@fontsource-variable/atkinson-hyperlegible-next';
import './app.css';
import { mount } from 'svelte';
import App from './App.svelte';
import { api } from './lib/api/client';
import { entering } from './lib/entering';
import { applyTheme } from './lib/theme.svelte';

applyTheme();
api.use(entering);
const target = document.getElementById('app');
if (target) mount(App, { target });
