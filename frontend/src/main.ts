import '@fontsource-variable/atkinson-hyperlegible-next';
import './app.css';
import { mount } from 'svelte';
import App from './App.svelte';
import { applyTheme } from './lib/theme.svelte';

applyTheme();
const target = document.getElementById('app');
if (target) mount(App, { target });
