import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Calm } from './calm.svelte';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('follows at once when nobody is busy, and twice a second while a hand goes on', () => {
  const calm = new Calm(-1);
  calm.follow(0, false);
  expect(calm.value).toBe(0);
  const seen = new Set<number>();
  for (let at = 1; at <= 120; at++) {
    calm.follow(at, true);
    vi.advanceTimersByTime(10);
    seen.add(calm.value);
  }
  expect([...seen]).toEqual([0, 50, 100]);
});

it('shows the last value as soon as the hand rests, and nothing after it', () => {
  const calm = new Calm(0);
  calm.follow(1, false);
  calm.follow(2, true);
  calm.follow(3, true);
  vi.advanceTimersByTime(60);
  expect(calm.value).toBe(3);
  calm.follow(4, true);
  calm.follow(5, false);
  vi.advanceTimersByTime(1000);
  expect(calm.value).toBe(5);
});
