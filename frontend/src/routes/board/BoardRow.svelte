<script lang="ts">
  import GripVertical from '@lucide/svelte/icons/grip-vertical';
  import type { Verdict } from '../../lib/api/client';
  import PlateSymbol from '../../lib/drawings/PlateSymbol.svelte';
  import { KINDS, STEPS, type PlateKind } from '../../lib/kinds';
  import { say } from '../../lib/quantities';
  import HoursBar from '../../lib/ui/HoursBar.svelte';
  import VerdictMark from '../../lib/ui/VerdictMark.svelte';
  import { navigate } from '../../router';
  import type { FilmedShot, Row, RowVerdict } from './filter';
  import type { Shown } from './shown.svelte';

  type Props = {
    row: Row;
    production: string;
    verdict: RowVerdict | undefined;
    filmed?: FilmedShot;
    chosen: boolean;
    /** Whether the keyboard is on this row. */
    at: boolean;
    editable: boolean;
    /** Hours at the right end of every bar. */
    full: number;
    ontoggle: (range: boolean) => void;
    onfocus: () => void;
    onhold: (event: PointerEvent) => void;
    /** What stands for the shot, if it has both. */
    first?: Shown;
  };
  let {
    row,
    production,
    verdict,
    filmed,
    chosen,
    at,
    editable,
    full,
    ontoggle,
    onfocus,
    onhold,
    first = 'sketch',
  }: Props = $props();
  const colours: Record<Verdict, string> = {
    holds: 'var(--line)',
    strains: 'var(--strains)',
    breaks: 'var(--breaks)',
  };
  /** What was not asked of some plate, each once. */
  const waiting = $derived(
    [...new Set(Object.values(verdict?.unasked ?? {}).flatMap((titles) => titles))].map((title) =>
      title.toLowerCase(),
    ),
  );
  const built = $derived(row.plates.length > 0 || row.recipes.length > 0);
  /** A row opens the Bench; what says that a way has to be chosen opens where that is done. */
  function choose(event: MouseEvent) {
    if (!(event.target as Element).closest('[data-next]')) return;
    event.preventDefault();
    // The router follows every link it hears of, prevented or not.
    event.stopPropagation();
    navigate('/productions/:production/shots/:shot/method', {
      params: { production, shot: row.id },
    });
  }
  /** The developed picture, where it is what is shown. */
  const developed = $derived(
    verdict?.picture && (first === 'developed' || !row.sketch) ? verdict.picture : null,
  );
  const CALLED = { run: 'Dry run', story: 'The story, developed', plate: 'A plate, developed' };
  const address = (picture: NonNullable<RowVerdict['picture']>) =>
    `/api/productions/${production}/` +
    (picture.of === 'run'
      ? `dry-runs/${picture.id}/picture?which=composite`
      : `developed/${picture.id}/picture`);
  const of = (id: string) => verdict?.plates[id] as Verdict | undefined;
</script>

<li
  data-shot={row.id}
  class={[
    'row border-line border-b',
    chosen ? 'bg-well' : 'bg-card',
    'has-[a:focus-visible]:outline-ochre-ink has-[a:focus-visible]:outline-2 has-[a:focus-visible]:-outline-offset-2',
  ]}
>
  <div class="flex items-start gap-2 p-2 md:items-center">
    {#if editable}
      <button
        class="text-soft hidden cursor-grab touch-none p-1 md:block"
        aria-label={`Drag shot ${row.number} to another place (or Alt and an arrow key)`}
        tabindex="-1"
        onpointerdown={onhold}><GripVertical size={16} /></button
      >
    {/if}
    <input
      type="checkbox"
      class="mt-1 size-4 shrink-0 md:mt-0"
      checked={chosen}
      aria-label={`Choose shot ${row.number}`}
      tabindex="-1"
      onclick={(event) => ontoggle(event.shiftKey)}
    />
    <a
      class="cells grow"
      href="/productions/{production}/shots/{row.id}"
      tabindex={at ? 0 : -1}
      data-row-link={row.id}
      {onfocus}
      onclick={choose}
    >
      <span class="rank">
        <span class="num block truncate text-2xl leading-tight font-bold">{row.number}</span>
        <span
          class="bg-line block h-1 w-9"
          title={`${Math.round(row.readiness * 100)} % of the way to chosen takes`}
        >
          <span class="bg-ink block h-1" style:width={`${row.readiness * 100}%`}></span>
          <span class="sr-only">{Math.round(row.readiness * 100)} % ready</span>
        </span>
      </span>
      <span class="sketch bg-well border-line block overflow-hidden border" aria-hidden="true">
        {#if developed}
          <img
            src={address(developed)}
            alt=""
            loading="lazy"
            title={CALLED[developed.of] +
              (developed.current ? '' : '; the plan has moved on since it was made')}
            class={['h-full w-full object-cover', !developed.current && 'opacity-45']}
            data-developed={developed.of}
          />
        {:else if row.sketch}
          <img
            src="/api/productions/{production}/sketches/{row.sketch.id}/picture?size=thumb&r={row
              .sketch.revision}"
            alt=""
            loading="lazy"
            class="paper h-full w-full object-cover"
          />
        {:else}
          <span class="text-soft flex h-full items-center justify-center text-xs">no sketch</span>
        {/if}
      </span>
      <span class="what min-w-0">
        <span class="flex items-baseline gap-2">
          <span class="truncate font-semibold">{row.title}</span>
          {#if row.variant_of}<span class="text-soft text-xs">variant</span>{/if}
        </span>
        <span class="text-soft block truncate text-sm">{row.action}</span>
        <span class="text-soft block truncate text-sm">
          {[
            row.place,
            row.time_of_day,
            say(row.screen_time_s, 'seconds'),
            row.views > 1 ? `${row.views} views` : '',
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </span>
      <span class="how min-w-0">
        <span class="block truncate text-sm">
          {row.recipes.map((r) => r.name).join(' + ') || 'no method chosen'}
        </span>
        <span class="mt-0.5 flex flex-wrap gap-1">
          {#each row.plates.slice(0, 7) as plate (plate.id)}
            {@const judged = of(plate.id)}
            <span
              class="border-b-[3px] pb-px"
              style:border-color={judged ? colours[judged] : 'transparent'}
              style:opacity={plate.required ? 1 : 0.6}
              title={`${plate.name}: ${KINDS[plate.kind as PlateKind].short}, ${STEPS[plate.step]}${judged && judged !== 'holds' ? `, ${judged}` : ''}`}
            >
              <PlateSymbol kind={plate.kind} size={26} />
              <span class="mt-px flex gap-px" aria-hidden="true">
                {#each [1, 2, 3, 4] as step (step)}
                  <span
                    class="h-[3px] w-[5.75px]"
                    style:background={plate.step >= step ? 'var(--ink)' : 'var(--line)'}
                  ></span>
                {/each}
              </span>
              <span class="sr-only"
                >{plate.name}, {STEPS[plate.step]}{judged ? `, ${judged}` : ''}</span
              >
            </span>
          {/each}
          {#if row.plates.length > 7}
            <span class="text-soft self-center text-sm">+{row.plates.length - 7}</span>
          {/if}
        </span>
      </span>
      <span class="hours">
        <HoursBar label="set" value={row.set_hours} {full} width={64} />
        <HoursBar label="post" value={row.post_hours} {full} width={64} />
        {#if row.logged > 0}
          <span class="text-soft block text-xs">{row.logged.toFixed(1)} h logged</span>
        {/if}
      </span>
      <span class="next min-w-0 text-sm">
        <span class="flex items-center gap-1.5">
          {#if verdict?.verdict}<VerdictMark
              verdict={verdict.verdict as Verdict}
              soFar={waiting.length > 0}
            />{/if}
          <span
            class={['truncate font-semibold', built ? '' : 'hover:underline']}
            data-next={built ? undefined : 'method'}
          >
            {verdict?.next ?? row.next}
          </span>
        </span>
        {#if verdict?.title}
          <span class="text-soft line-clamp-2" title={verdict.sentence}
            >{verdict.title}. {verdict.sentence}</span
          >
        {:else if waiting.length > 0}
          <span class="text-soft line-clamp-2"
            >Holds so far; not asked yet: {waiting.join(', ')}.</span
          >
        {:else if row.continuity[0]}
          <span class="text-soft line-clamp-2">{row.continuity[0].sentence}</span>
        {/if}
        {#if filmed && filmed.verdict !== 'holds'}
          <span
            class="flex items-center gap-1.5"
            data-filmed={filmed.verdict}
            title="{filmed.name}: {filmed.sentence}"
          >
            <VerdictMark verdict={filmed.verdict} size={18} />
            <span class="line-clamp-2">Filmed, {filmed.name}: {filmed.sentence}</span>
          </span>
        {/if}
        {#if row.unread_cautions > 0}
          <span class="text-soft block">
            {row.unread_cautions}
            {row.unread_cautions === 1 ? 'caution' : 'cautions'} not read
          </span>
        {/if}
      </span>
    </a>
  </div>
</li>

<style>
  /* Rows out of view are neither laid out nor painted, so that hundreds stay smooth. */
  .row {
    content-visibility: auto;
    contain-intrinsic-size: auto 84px;
  }
  .cells {
    display: grid;
    gap: 0.15rem 0.75rem;
    grid-template-columns: 3rem 7rem minmax(0, 1fr);
    grid-template-areas: 'num sketch what' '. how how' '. hours hours' '. next next';
    align-items: center;
  }
  .rank {
    grid-area: num;
  }
  .sketch {
    grid-area: sketch;
    height: 3.1rem;
    width: 7rem;
  }
  .what {
    grid-area: what;
  }
  .how {
    grid-area: how;
  }
  .hours {
    grid-area: hours;
  }
  .next {
    grid-area: next;
  }
  @media (min-width: 64rem) {
    .cells {
      grid-template-columns:
        3rem 7rem minmax(10rem, 1.3fr) minmax(10rem, 1fr) 10.5rem
        minmax(11rem, 1.1fr);
      grid-template-areas: 'num sketch what how hours next';
    }
  }
</style>
