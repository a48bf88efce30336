import { createRouter } from 'sv-router';
import NotFound from './routes/NotFound.svelte';
import Productions from './routes/productions/Productions.svelte';

// Each screen is fetched when it is first visited.
export const { p, navigate, route } = createRouter({
  '/': Productions,
  '/productions/:production': () => import('./routes/board/Board.svelte'),
  '/productions/:production/import': () => import('./routes/arriving/Arriving.svelte'),
  '/productions/:production/recipes': () => import('./routes/recipes/Recipes.svelte'),
  '/productions/:production/continuity': () => import('./routes/continuity/Continuity.svelte'),
  '/productions/:production/hours': () => import('./routes/hours/Hours.svelte'),
  '/productions/:production/pictures': () => import('./routes/pictures/Library.svelte'),
  '/productions/:production/pictures/:picture': () => import('./routes/picked/Picked.svelte'),
  '/productions/:production/kit': () => import('./routes/kit/Kit.svelte'),
  '/productions/:production/kit/lenses/:lens': () => import('./routes/lens/Lens.svelte'),
  '/productions/:production/shots/:shot': () => import('./routes/bench/Bench.svelte'),
  '/productions/:production/shots/:shot/method': () => import('./routes/method/Method.svelte'),
  '/productions/:production/shots/:shot/lockoff': () => import('./routes/lockoff/LockOff.svelte'),
  '/productions/:production/shots/:shot/frames': () => import('./routes/frames/Frames.svelte'),
  '/productions/:production/shots/:shot/frames/:plate': () =>
    import('./routes/camera/Camera.svelte'),
  '/productions/:production/shots/:shot/frames/:plate/set': () =>
    import('./routes/setmap/SetMap.svelte'),
  '/productions/:production/shots/:shot/pictures': () =>
    import('./routes/pictures/Pictures.svelte'),
  '/productions/:production/shots/:shot/together': () =>
    import('./routes/together/Together.svelte'),
  '/productions/:production/shots/:shot/dry-run': () => import('./routes/dryrun/DryRun.svelte'),
  '/productions/:production/shots/:shot/sketches': () =>
    import('./routes/sketches/SketchRoom.svelte'),
  '/productions/:production/shots/:shot/hours': () => import('./routes/hours/ShotHours.svelte'),
  '/productions/:production/cards/:card': () => import('./routes/card/Card.svelte'),
  '/productions/:production/takes/:take': () => import('./routes/take/Take.svelte'),
  '/productions/:production/people': () => import('./routes/people/People.svelte'),
  // For whoever has a link.
  '/crew': () => import('./routes/crew/Crew.svelte'),
  '/crew/:production/:card': () => import('./routes/card/Card.svelte'),
  '/invited': () => import('./routes/door/Invited.svelte'),
  '/new-password': () => import('./routes/door/NewPassword.svelte'),
  '*': NotFound,
});
