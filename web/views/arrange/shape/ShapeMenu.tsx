/** The wished shape of a playlist, chosen by name. */
import { ChevronDown } from 'lucide-react';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { SHAPES, shapeLabel } from '@early-set/core/arrange/shape';
import { change } from '../../../data/actions.ts';
import { patch } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { Menu, type MenuItem } from '../../../ui/Menu.tsx';

/** The shapes to choose from. */
export const shapeItems = (list: ListContents): MenuItem[] =>
  [null, ...SHAPES].map((shape) => {
    const name = shape ?? 'none';
    return {
      label: name[0]!.toUpperCase() + name.slice(1),
      disabled: shape === list.info.shape,
      apart: shape === SHAPES[0],
      run: () => void change(patch<Applied>(`/lists/${list.id}`, { shape })),
    };
  });

export const ShapeMenu = ({ list }: { list: ListContents }) => (
  <Menu items={shapeItems(list)}>
    <Button>
      Wished shape: {shapeLabel(list.info.shape)}
      <ChevronDown size={13} aria-hidden />
    </Button>
  </Menu>
);
