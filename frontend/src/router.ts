import { createRouter } from 'sv-router';
import Arriving from './routes/arriving/Arriving.svelte';
import Bench from './routes/bench/Bench.svelte';
import Board from './routes/board/Board.svelte';
import Card from './routes/card/Card.svelte';
import Continuity from './routes/continuity/Continuity.svelte';
import Hours from './routes/hours/Hours.svelte';
import ShotHours from './routes/hours/ShotHours.svelte';
import Kit from './routes/kit/Kit.svelte';
import LockOff from './routes/lockoff/LockOff.svelte';
import Method from './routes/method/Method.svelte';
import NotFound from './routes/NotFound.svelte';
import Productions from './routes/productions/Productions.svelte';
import Recipes from './routes/recipes/Recipes.svelte';
import SketchRoom from './routes/sketches/SketchRoom.svelte';
import Take from './routes/take/Take.svelte';

export const { p, navigate, route } = createRouter({
  '/': Productions,
  '/productions/:production': Board,
  '/productions/:production/import': Arriving,
  '/productions/:production/recipes': Recipes,
  '/productions/:production/continuity': Continuity,
  '/productions/:production/hours': Hours,
  '/productions/:production/kit': Kit,
  '/productions/:production/shots/:shot': Bench,
  '/productions/:production/shots/:shot/method': Method,
  '/productions/:production/shots/:shot/lockoff': LockOff,
  '/productions/:production/shots/:shot/sketches': SketchRoom,
  '/productions/:production/shots/:shot/hours': ShotHours,
  '/productions/:production/cards/:card': Card,
  '/productions/:production/takes/:take': Take,
  '*': NotFound,
});
