<script lang="ts">
  import { worded } from '../system.svelte';
  import { told } from '../units';
  import type { Attachment } from 'svelte/attachments';
  import { chainage, ipName } from '../format';
  import { useWork } from '../state/work.svelte';
  import type { Ip } from '../../api/client';
  import ControlMarks from './ControlMarks.svelte';
  import { drag, type DragHandlers } from './drag';
  import { levelScale, snapsOf } from './long';
  import { snapped } from './snap';
  import { onWay, wayOf, wordsOf, type Way } from './way';

  const w = useWork();
  const { axes } = w.selection;
  let width = $state(800);
  const scale = $derived(levelScale(w.long));
  const y = $derived(scale.y);

  /** The IP as it was when it was taken, and the way it is kept to while keys are held. */
  let taken = $state.raw<Ip | null>(null);
  let way = $state<Way>('free');
  let snappedTo = $state('');
  /** Where the held IP is under the pointer, before the figures of it come. */
  const held = $derived.by(() => {
    const d = w.trial.draft;
    if ((d?.what !== 'move' && d?.what !== 'straight') || w.shownFigures?.stopped) return null;
    const end = d.ip === 0 || d.ip === w.ips.length - 1;
    return { ip: d.ip, chainage_m: end ? w.ips[d.ip]!.chainage_m : d.chainage_m, level_m: d.level_m };
  });
  /** Pixels for a metre along and for a metre of height. */
  const perMetre = () => ({ along: axes.scale, up: Math.abs(scale.y(1) - scale.y(0)) });

  function handle(i: number): Attachment {
    return (node) =>
      drag(node, (): DragHandlers => ({
        onstart: () => {
          if (w.selection.ip !== i) w.select(i);
          taken = w.ips[i]!;
        },
        onmove: ({ x, y: py, dx, dy, keys }) => {
          if (!taken) return;
          way = wayOf(keys, dx, dy, taken);
          const end = i === 0 || i === w.ips.length - 1;
          let at = onWay(way, taken, { chainage_m: axes.toChainage(x), level_m: scale.toLevel(py) });
          snappedTo = '';
          if (keys.alt !== axes.snaps && way !== 'in' && way !== 'out') {
            const free = { chainage: !end && way !== 'upright', level: way !== 'level' };
            const { says, ...to } = snapped(at, snapsOf(w), perMetre(), free);
            [at, snappedTo] = [to, says];
          }
          if (end) at.chainage_m = taken.chainage_m;
          // The view goes along where the handle leaves it.
          else axes.reveal(Math.min(Math.max(at.chainage_m, axes.full[0]), axes.full[1]));
          w.try(way === 'free' ? { what: 'move', ip: i, ...at, slide: true } : { what: 'straight', ip: i, ...at });
        },
        onend: () => {
          way = 'free';
          void w.trial.keep();
        },
        oncancel: () => {
          way = 'free';
          w.cancel();
        },
      }));
  }

  /** Drag an end of a curve: both sides grow in their proportion, as far as there is room. */
  function stretch(i: number, end: number): Attachment {
    let wished = 0;
    return (node) =>
      drag(node, (): DragHandlers => ({
        onmove: ({ x }) => {
          const ip = w.ips[i]!;
          const before = (ip.chainage_m - ip.curve_start_m) / ip.curve_length_m || 0.5;
          const share = end === 0 ? before : 1 - before;
          wished = Math.abs(axes.toChainage(x) - ip.chainage_m) / share;
          const length = Math.min(wished, ip.room_m);
          w.try({ what: 'length', ip: i, curve_length_m: Math.floor(length * 1000) / 1000 });
        },
        onend: () => {
          const { room_m } = w.ips[i]!;
          void w.trial.keep().then(() => {
            if (wished > room_m + 0.01) void w.askWays({ what: 'length', ip: i, curve_length_m: wished });
          });
        },
        oncancel: () => w.cancel(),
      }));
  }

  function doubleClick(e: MouseEvent): void {
    const frame = (e.currentTarget as Element).getBoundingClientRect();
    let at = { chainage_m: axes.toChainage(e.clientX - frame.left), level_m: scale.toLevel(e.clientY - frame.top) };
    if (e.altKey !== axes.snaps) {
      const { chainage_m, level_m } = snapped(at, snapsOf(w), perMetre(), { chainage: true, level: true });
      at = { chainage_m, level_m };
    }
    w.act(w.apply({ what: 'add', ...at }));
  }

  const failing = $derived(w.failingIps);
</script>

<div class="fill" bind:clientWidth={width} bind:clientHeight={axes.height}>
  <svg {width} height={axes.height} ondblclick={doubleClick} aria-label="IPs of the grade line" role="group">
    {#each w.ips as ip, i (i)}
      {@const px = axes.x(ip.chainage_m)}
      {@const py = y(ip.level_m)}
      {#if px > 50 && px < width - 4}
        {#if w.selection.ip === i && ip.curve_length_m > 0}
          {#each [ip.curve_start_m, ip.curve_end_m] as s, end (end)}
            {@const tangent = end === 0 ? (ip.grade_in ?? 0) : (ip.grade_out ?? 0)}
            {@const at = { cx: axes.x(s), cy: y(ip.level_m + tangent * (s - ip.chainage_m)) }}
            <g class="handle" {@attach stretch(i, end)}>
              <circle class="reach" {...at} r="12" />
              <circle class="end" {...at} r="4.5" />
            </g>
          {/each}
        {/if}
        <g
          class="handle"
          class:selected={w.selection.ip === i}
          class:fails={failing.has(i)}
          class:held={held?.ip === i}
          role="button"
          tabindex={w.selection.ip === i || (w.selection.ip === null && i === 0) ? 0 : -1}
          aria-label={`${ipName(i, w.ips.length - 1)} at ${chainage(ip.chainage_m)}, ${worded('level')} ${told('level', ip.level_m, 2)}`}
          data-ip={i}
          onfocus={() => {
            if (w.selection.ip !== i) w.select(i);
          }}
          {@attach handle(i)}
        >
          <!-- Placed by their own numbers: a transform each would be a layer each to the browser, at every frame. -->
          <circle class="reach" cx={px} cy={py} r="13" />
          <rect x={px - 6} y={py - 6} width="12" height="12" rx="3" />
          {#if failing.has(i)}
            <text class="flag" x={px} y={py > 22 ? py - 11 : py + 20} text-anchor="middle">✕</text>
          {/if}
        </g>
      {/if}
    {/each}
  </svg>
  {#if w.selection.step === 'limits'}<ControlMarks />{/if}
  {#if held}
    <!-- A layer of its own: it follows the pointer without anything being drawn again. -->
    <div
      class="hand"
      class:fails={failing.has(held.ip)}
      style:translate={`${axes.x(held.chainage_m)}px ${y(held.level_m)}px`}
    >
      {#if taken && (way !== 'free' || snappedTo)}
        <span class="way" role="status">{[wordsOf(way, taken), snappedTo].filter((words) => words).join(', ')}</span>
      {/if}
    </div>
  {/if}
</div>

<style>
  .fill {
    position: absolute;
    inset: 0;
  }
  svg {
    position: absolute;
    inset: 0;
    touch-action: none;
  }
  .handle {
    cursor: grab;
    outline: none;
  }
  /* Taken by the hand, and nothing to be painted. */
  .reach {
    fill: none;
    pointer-events: all;
  }
  .handle:focus-visible rect {
    stroke: var(--ink-plumb);
    stroke-width: 3;
  }
  .handle:active {
    cursor: grabbing;
  }
  rect,
  .end {
    fill: var(--ink-paper);
    stroke: var(--ink-line);
    stroke-width: 2;
  }
  .handle:hover rect,
  .handle:hover .end {
    stroke-width: 3;
  }
  .selected rect {
    fill: var(--ink-line);
  }
  .fails rect {
    stroke: var(--ink-failure);
  }
  .held rect {
    visibility: hidden;
  }
  .hand {
    position: absolute;
    left: -7px;
    top: -7px;
    width: 14px;
    height: 14px;
    border: 2px solid var(--ink-line);
    border-radius: 3px;
    background: var(--ink-line);
    will-change: translate;
    pointer-events: none;
  }
  .way {
    position: absolute;
    left: 16px;
    top: -8px;
    padding: 0 4px;
    white-space: nowrap;
    font-size: 12px;
    font-weight: 600;
    background: var(--ink-paper);
    color: var(--ink-plumb);
  }
  .hand.fails {
    border-color: var(--ink-failure);
  }
  .flag {
    fill: var(--ink-failure);
    font-size: 12px;
    font-weight: 800;
  }
</style>
