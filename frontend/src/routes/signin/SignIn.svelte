<script lang="ts">
  import SignInForm from './SignInForm.svelte';
</script>

<svelte:head><title>Sign in · Jungoptic</title></svelte:head>

<main class="mx-auto grid min-h-dvh max-w-4xl items-center gap-10 p-6 md:grid-cols-2">
  <div>
    <h1 class="text-4xl">Jungoptic</h1>
    <p class="mt-3 text-lg">
      Decide a shot once, in the story's world. Read off what every stage needs, and whether the
      pieces will fit.
    </p>
    <svg
      viewBox="0 0 320 130"
      class="mt-6 w-full"
      role="img"
      aria-label="A camera sees the same view of a house and of its quarter-size model on a table"
    >
      <path d="M10 110H310" stroke="var(--line)" stroke-width="1.5" />
      <path d="M24 62L300 32.5M24 62L300 126.3" stroke="var(--soft)" stroke-width=".7" />
      <rect x="8" y="54" width="16" height="16" fill="var(--ink)" />
      <path d="M14 70V110" stroke="var(--ink)" stroke-width="2" />
      <g fill="none" stroke="var(--ink)" stroke-width="2">
        <path d="M230 110V62L260 40L290 62V110z" />
        <path d="M75.5 74V62L83 56.5L90.5 62V74z" />
        <path d="M60 74.8H108M66 75V110M102 75V110" stroke-width="1.5" />
      </g>
      <g stroke="var(--ochre-ink)" fill="var(--ochre-ink)" font-size="9" text-anchor="middle">
        <path d="M24 90H75.5M24 87V93M75.5 87V93M24 119H230M24 116V122M230 116V122" />
        <text x="50" y="87" stroke="none">1</text>
        <text x="127" y="116" stroke="none">4</text>
      </g>
    </svg>
  </div>
  <div class="bg-card border-ink border-t-4 p-6 shadow">
    <h2 class="mb-4 text-lg">Sign in</h2>
    <SignInForm opens />
  </div>
</main>
