/** Recipes kept: saved, taken, duplicated, removed, exported and brought back from a file; and those that come ready-made. */
import { Copy, Download, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SavedRecipe } from '@early-set/core/api/types';
import { READY_MADE, readRecipe, recipeText, type Recipe } from '@early-set/core/clean/recipes';
import { complain, perform, several } from '../../data/actions.ts';
import { patch, post, remove } from '../../data/api.ts';
import { useRecipes } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { saveFile } from '../../ui/saveFile.ts';
import type { RecipeState } from './recipeState.ts';

const ICON = 'rounded-xs p-1 text-dim hover:bg-hair hover:text-ink';

export function SavedRecipes({ state }: { state: RecipeState }) {
  const { recipe } = state;
  const [open, setOpen] = useState(false);
  const { data: saved = [] } = useRecipes();
  const file = useRef<HTMLInputElement>(null);
  const take = (taken: Recipe, id: number | null): void => {
    const before = recipe;
    state.take(taken, id);
    setOpen(false);
    toast(`${taken.name} is on the desk`, { action: { label: 'Undo', onClick: () => state.keep(before) } });
  };
  const save = async (name: string, over: SavedRecipe | undefined): Promise<void> => {
    const body = { name, steps: recipe.steps };
    const kept = await perform(
      over ? patch<SavedRecipe>(`/recipes/${over.id}`, body) : post<SavedRecipe>('/recipes', body),
    );
    if (!kept) return;
    state.keep({ ...recipe, id: kept.id, name: kept.name });
    toast(`${kept.name} is saved`, {
      action: {
        label: 'Undo',
        onClick: () =>
          void perform(
            over ? patch(`/recipes/${over.id}`, { name: over.name, steps: over.steps }) : remove(`/recipes/${kept.id}`),
          ),
      },
    });
  };
  const removeOne = async (one: SavedRecipe): Promise<void> => {
    if (await perform(remove<SavedRecipe>(`/recipes/${one.id}`)))
      toast(`${one.name} is removed`, {
        action: { label: 'Undo', onClick: () => void perform(post('/recipes', { name: one.name, steps: one.steps })) },
      });
  };
  const bringBack = async (chosen: File): Promise<void> => {
    try {
      const read = readRecipe(await chosen.text());
      if (typeof read === 'string') toast.error(`${chosen.name}: ${read}`);
      else take(read, null);
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>Saved recipes</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={5}
          aria-label="Saved recipes"
          className="z-50 max-h-[75vh] w-[310px] overflow-y-auto rounded-sm border border-line bg-paper p-3 text-ink shadow-[0_6px_20px_rgba(11,23,28,.18)]"
        >
          <SaveForm key={recipe.name} name={recipe.name} saved={saved} onSave={(name, over) => void save(name, over)} />
          {saved.length > 0 && <h3 className="mt-3 mb-1 text-small text-dim">Saved</h3>}
          <ul>
            {saved.map((one) => (
              <li key={one.id} className="flex items-center gap-0.5 border-b border-hair py-0.5">
                <button
                  type="button"
                  onClick={() => take(one, one.id)}
                  className="min-w-0 flex-1 truncate py-1 text-left font-semibold hover:text-buoy-text"
                >
                  {one.name} <span className="font-normal text-dim">{several(one.steps.length, 'step')}</span>
                </button>
                <button
                  type="button"
                  aria-label={`Duplicate ${one.name}`}
                  title="Duplicate"
                  onClick={() => void perform(post('/recipes', { name: `${one.name}, copy`, steps: one.steps }))}
                  className={ICON}
                >
                  <Copy size={13} />
                </button>
                <button
                  type="button"
                  aria-label={`Export ${one.name}`}
                  title="Export as JSON"
                  onClick={() => saveFile(`${one.name}.recipe.json`, 'application/json', recipeText(one))}
                  className={ICON}
                >
                  <Download size={13} />
                </button>
                <button
                  type="button"
                  aria-label={`Remove ${one.name}`}
                  title="Remove"
                  onClick={() => void removeOne(one)}
                  className={ICON}
                >
                  <X size={13} />
                </button>
              </li>
            ))}
          </ul>
          <h3 className="mt-3 mb-1 text-small text-dim">Ready-made</h3>
          <ul>
            {READY_MADE.map((one) => (
              <li key={one.name} className="border-b border-hair">
                <button
                  type="button"
                  onClick={() => take(one, null)}
                  className="w-full py-1.5 text-left font-semibold hover:text-buoy-text"
                >
                  {one.name} <span className="font-normal text-dim">{several(one.steps.length, 'step')}</span>
                </button>
              </li>
            ))}
          </ul>
          <Button className="mt-3" onClick={() => file.current?.click()}>
            Bring in a file…
          </Button>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            aria-label="Recipe file"
            className="hidden"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              e.target.value = '';
              if (chosen) void bringBack(chosen);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function SaveForm({
  name: first,
  saved,
  onSave,
}: {
  name: string;
  saved: SavedRecipe[];
  onSave: (name: string, over: SavedRecipe | undefined) => void;
}) {
  const [name, setName] = useState(first);
  const wanted = name.trim(),
    over = saved.find((s) => s.name === wanted);
  return (
    <form
      className="flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (wanted) onSave(wanted, over);
      }}
    >
      <input
        value={name}
        onChange={(e) => setName(e.target.value)}
        maxLength={200}
        aria-label="Name of this recipe"
        placeholder="Name of this recipe"
        className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
      />
      <Button type="submit" disabled={!wanted}>
        {over ? 'Save over it' : 'Save'}
      </Button>
    </form>
  );
}
