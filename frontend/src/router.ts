import { createRouter } from 'sv-router';
import Bench from './routes/bench/Bench.svelte';
import Card from './routes/card/Card.svelte';
import Kit from './routes/kit/Kit.svelte';
import NotFound from './routes/NotFound.svelte';
import Productions from './routes/productions/Productions.svelte';
import Shots from './routes/shots/Shots.svelte';
import Take from './routes/take/Take.svelte';

export const { p, navigate, route } = createRouter({
  '/': Productions,
  '/productions/:production': Shots,
  '/productions/:production/kit': Kit,
  '/productions/:production/shots/:shot': Bench,
  '/productions/:production/cards/:card': Card,
  '/productions/:production/takes/:take': Take,
  '*': NotFound,
});
