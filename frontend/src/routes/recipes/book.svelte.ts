/** The recipe book of a production: the book that ships, and its own recipes. */

import { api, ask, type Schemas } from '../../lib/api/client';

export type Recipe = Schemas['RecipeOut'];

export class Book {
  recipes = $state.raw<Recipe[]>([]);
  references = $state.raw<Schemas['Reference'][]>([]);
  subjects = $state.raw<Record<string, string>>({});
  owned = $state.raw<Record<string, string>>({});

  constructor(readonly production: string) {}

  async load() {
    const [book, own] = await Promise.all([
      ask(() => api.GET('/api/recipes')),
      ask(() =>
        api.GET('/api/productions/{production_id}/recipes', {
          params: { path: { production_id: this.production } },
        }),
      ),
    ]);
    this.recipes = [...own, ...book.recipes];
    this.references = book.references;
    this.subjects = book.subjects;
    this.owned = book.owned;
  }

  of(key: string): Recipe | undefined {
    return this.recipes.find((recipe) => recipe.key === key);
  }
}

function words(recipe: Recipe): string {
  return [
    recipe.name,
    recipe.effect,
    recipe.said,
    ...recipe.suits,
    ...recipe.avoid,
    ...recipe.right,
    ...recipe.betrays,
    ...recipe.post,
    ...recipe.needs,
    ...recipe.passes.flatMap((p) => [p.name, p.why]),
    ...recipe.cautions.map((c) => c.name),
  ]
    .join(' ')
    .toLowerCase();
}

/** Recipes with all of the words in them; hits in the name come first. */
export function find(recipes: Recipe[], text: string): Recipe[] {
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = recipes.filter((r) => wanted.every((word) => words(r).includes(word)));
  const inName = (r: Recipe) =>
    wanted.every((word) => `${r.name} ${r.effect}`.toLowerCase().includes(word));
  return [...found.filter(inName), ...found.filter((r) => !inName(r))];
}

/** Recipes under the names of their families, in the order they come. */
export function families(recipes: Recipe[]): [string, Recipe[]][] {
  const found: [string, Recipe[]][] = [];
  for (const recipe of recipes) {
    const here = found.find(([name]) => name === recipe.family_name);
    if (here) here[1].push(recipe);
    else found.push([recipe.family_name, [recipe]]);
  }
  return found;
}
