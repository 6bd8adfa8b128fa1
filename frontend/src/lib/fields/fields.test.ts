// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/svelte';
import { afterEach, describe, expect, it, vi } from 'vitest';
import Grid from './Grid.svelte';
import Field from './Field.svelte';

afterEach(cleanup);
Element.prototype.scrollIntoView = () => undefined;

function field(take: (v: number | string | null) => Promise<string | null> | string | null, over: object = {}) {
  const props = { id: 'f', label: 'level', value: 12.5, dimension: 'length' };
  return render(Field, { ...props, take, ...over } as never);
}
const input = () => screen.getByLabelText('level') as HTMLInputElement;

async function type(text: string, then?: string): Promise<void> {
  await fireEvent.input(input(), { target: { value: text } });
  if (then) await fireEvent.keyDown(input(), { key: then });
  else await fireEvent.blur(input());
}

describe('a typed value', () => {
  it('takes effect on Enter, understood in its unit', async () => {
    const take = vi.fn(() => null);
    field(take);
    await type('150 ft', 'Enter');
    await waitFor(() => expect(take).toHaveBeenCalledWith(45.72));
  });

  it('takes effect on leaving the field, and not when nothing was changed', async () => {
    const take = vi.fn(() => null);
    field(take);
    await fireEvent.blur(input());
    await type('12.50');
    expect(take).not.toHaveBeenCalled();
    await type('13');
    await waitFor(() => expect(take).toHaveBeenCalledWith(13));
  });

  it('stays in the field with the reason beside it when it is not understood or refused', async () => {
    field(() => 'there is room for 10 m');
    await type('abc');
    await waitFor(() => expect(screen.getByText(/is not understood/)).toBeTruthy());
    expect(input().value).toBe('abc');
    expect(input().getAttribute('aria-invalid')).toBe('true');
    await type('99', 'Enter');
    await waitFor(() => expect(screen.getByText('there is room for 10 m')).toBeTruthy());
    expect(input().value).toBe('99');
    await fireEvent.keyDown(input(), { key: 'Escape' });
    expect(input().value).toBe('12.50');
  });

  it('survives figures that come in anew with the same value, and gives way to another', async () => {
    const { rerender } = field(() => null);
    await fireEvent.input(input(), { target: { value: '13.7' } });
    await rerender({ value: 12.5 } as never);
    expect(input().value).toBe('13.7');
    await rerender({ value: 14 } as never);
    await waitFor(() => expect(input().value).toBe('14.00'));
  });

  it('may be empty only where that means something', async () => {
    const take = vi.fn(() => null);
    field(take, { optional: true });
    await type('');
    await waitFor(() => expect(take).toHaveBeenCalledWith(null));
    cleanup();
    field(take);
    await type('');
    await waitFor(() => expect(screen.getByText('Type a value.')).toBeTruthy());
  });
});

it('what is typed stays while it is on its way, and while it is refused', async () => {
  let answer: (why: string | null) => void = () => {};
  const { rerender } = field(() => new Promise((r) => (answer = r)));
  await type('20', 'Enter');
  await rerender({ value: 12.6 } as never);
  expect(input().value).toBe('20');
  answer('“Limits” was saved since, elsewhere.');
  await waitFor(() => expect(screen.getByText(/was saved since/)).toBeTruthy());
  expect([input().value, input().dataset.touched]).toEqual(['20', 'yes']);
});

interface Row {
  a: number;
  b: number;
}

function grid(over: object = {}) {
  const props = {
    label: 'rows',
    columns: [
      { key: 'a', title: 'first', dimension: 'length' as const, show: (r: Row) => String(r.a), edit: () => true },
      { key: 'b', title: 'second', dimension: 'factor' as const, show: (r: Row) => String(r.b) },
    ],
    rows: [
      { a: 1, b: 10 },
      { a: 2, b: 20 },
      { a: 3, b: 30 },
    ],
    name: (i: number) => `row ${i}`,
    ontype: () => null,
    ...over,
  };
  return render(Grid, props as never);
}
const cell = (i: number) => screen.getByLabelText(`row ${i} first`) as HTMLInputElement;

describe('a grid', () => {
  it('types into a cell, goes on to the next row, and shows a refusal under its row', async () => {
    const ontype = vi.fn((i: number) => (i === 1 ? 'too long' : null));
    grid({ ontype });
    await fireEvent.input(cell(0), { target: { value: '7' } });
    await fireEvent.keyDown(cell(0), { key: 'Enter' });
    await waitFor(() => expect(ontype).toHaveBeenCalledWith(0, 'a', 7));
    await waitFor(() => expect(document.activeElement).toBe(cell(1)));
    await fireEvent.input(cell(1), { target: { value: '900' } });
    await fireEvent.blur(cell(1));
    await waitFor(() => expect(screen.getByText('too long')).toBeTruthy());
    expect(cell(1).value).toBe('900');
  });

  it('pastes rows and columns of a spreadsheet', async () => {
    const onpaste = vi.fn(() => null);
    grid({ onpaste });
    const clipboardData = { getData: () => '5\t6\r\n7\t8\r\n' };
    await fireEvent.paste(cell(1), { clipboardData });
    expect(onpaste).toHaveBeenCalledWith(1, 'a', [
      ['5', '6'],
      ['7', '8'],
    ]);
  });

  it('selects several rows and deletes them at once', async () => {
    const ondelete = vi.fn();
    grid({ ondelete });
    await fireEvent.click(screen.getByRole('button', { name: /row 0/ }));
    await fireEvent.click(screen.getByRole('button', { name: /row 2/ }), { shiftKey: true });
    await fireEvent.keyDown(screen.getByRole('button', { name: /row 2/ }), { key: 'Delete' });
    expect(ondelete).toHaveBeenCalledWith([0, 1, 2]);
  });

  it('marks the rows that fail with more than a colour', () => {
    grid({ fails: (i: number) => i === 1 });
    expect(screen.getAllByLabelText('fails')).toHaveLength(1);
  });
});
