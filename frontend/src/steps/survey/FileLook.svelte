<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { whole } from '../../lib/format';
  import { chosenOf, type Layout, type Parts, type Preview } from '../../lib/state/intake.svelte';

  // How a file reads: its columns with their first rows, or its parts, each with what it is read as.
  interface Props {
    name: string;
    seen: Preview;
    /** Look at it again, read in another way. */
    again: (layout?: Layout, parts?: Parts) => void;
  }
  let { name, seen, again }: Props = $props();

  const DELIMITERS: [Layout['delimiter'], string][] = [
    ['comma', 'comma ,'],
    ['semicolon', 'semicolon ;'],
    ['tab', 'tab'],
    ['bar', 'bar |'],
    ['blanks', 'blanks'],
  ];

  const UNITS: [NonNullable<Layout['unit']>, string][] = [
    ['metre', 'metres'],
    ['foot', 'feet (international)'],
    ['us_survey_foot', 'US survey feet'],
  ];

  function change(part: Partial<Layout>): void {
    if (seen.layout) again({ ...seen.layout, ...part });
  }

  function role(column: number, value: string): void {
    if (!seen.layout) return;
    const roles = [...seen.layout.roles];
    // A role stands once: whoever had it before gives it up.
    const had = roles.findIndex((r) => r === value);
    if (had >= 0 && value !== 'ignore') roles[had] = roles[column]!;
    roles[column] = value as Layout['roles'][number];
    change({ roles });
  }

  function part(name: string, role: Parts['roles'][number]['role']): void {
    const now = chosenOf(seen);
    again(undefined, { ...now, roles: now.roles.map((p) => (p.name === name ? { name, role } : p)) });
  }

  function unit(value: Preview['unit']): void {
    if (seen.layout) change({ unit: value });
    else again(undefined, { ...chosenOf(seen), unit: value });
  }
</script>

<div class="head">
  <h2>{name}</h2>
  {#if seen.as_before}<span class="faint">read as the last file of this project was</span>{/if}
  {#if seen.layout}
    <label>
      delimiter
      <select
        class="select select-sm"
        aria-label="Delimiter"
        value={seen.layout.delimiter}
        onchange={(e) => again({ ...seen.layout!, delimiter: e.currentTarget.value as Layout['delimiter'], roles: [] })}
      >
        {#each DELIMITERS as [value, text] (value)}<option {value}>{text}</option>{/each}
      </select>
    </label>
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-sm"
        checked={seen.layout.header}
        onchange={(e) => change({ header: e.currentTarget.checked })}
      />
      first line is a heading</label
    >
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-sm"
        checked={seen.layout.decimal_comma}
        onchange={(e) => change({ decimal_comma: e.currentTarget.checked })}
      /> decimal comma</label
    >
  {:else}<span>{seen.reader}</span>{/if}
  <label
    >figures in
    <select
      class="select select-sm"
      aria-label="Unit of the figures"
      value={seen.unit}
      onchange={(e) => unit(e.currentTarget.value as Preview['unit'])}
    >
      {#each UNITS as [value, text] (value)}<option {value}>{text}</option>{/each}
    </select>
  </label>
</div>
{#if seen.layout}
  <p class="faint">The first lines as they are read. Say above each column what it holds.</p>
  <div class="scroll">
    <table class="sheet num" aria-label="First lines of the file">
      <thead>
        <tr>
          <th>line</th>
          {#each seen.layout.roles as value, i (i)}
            <th>
              <select
                class="select select-sm"
                class:picked={value !== 'ignore'}
                aria-label={`Column ${i + 1} holds`}
                {value}
                onchange={(e) => role(i, e.currentTarget.value)}
              >
                {#each seen.roles as r (r)}<option value={r}>{worded(r)}</option>{/each}
              </select>
            </th>
          {/each}
        </tr>
        {#if seen.titles.length}
          <tr
            ><th>row</th>{#each seen.layout.roles.keys() as i (i)}<th class="title">{seen.titles[i] ?? ''}</th
              >{/each}</tr
          >
        {/if}
      </thead>
      <tbody>
        {#each seen.rows as row, i (i)}
          <tr>
            <td class="faint">{row.line || 'last'}</td>
            {#each seen.layout.roles as r, i (i)}<td class:ignored={r === 'ignore'}>{row.cells[i] ?? ''}</td>{/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{:else}
  <p class="faint">What the file holds. Say of each part what it is read as.</p>
  <div class="scroll">
    <table class="sheet num" aria-label="Parts of the file">
      <thead><tr><th class="name">part</th><th class="name">holds</th><th>how many</th><th>read as</th></tr></thead>
      <tbody>
        {#each seen.parts as p (p.name)}
          <tr class:ignored={p.role === 'ignore'}>
            <td class="name">{p.name}</td>
            <td class="name">{p.holds}</td>
            <td>{whole(p.count)}</td>
            <td>
              <select
                class="select select-sm"
                aria-label={`${p.name} is read as`}
                value={p.role}
                onchange={(e) => part(p.name, e.currentTarget.value as typeof p.role)}
              >
                {#each p.roles as r (r)}<option value={r}>{r}</option>{/each}
              </select>
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}

<style>
  p {
    padding: 4px 12px;
  }
  .head {
    display: flex;
    align-items: center;
    gap: 16px;
    flex-wrap: wrap;
    padding: 8px 12px 0;
  }
  .head label {
    white-space: nowrap;
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .scroll {
    overflow: auto;
    padding: 0 12px 12px;
    min-height: 0;
  }
  .scroll td {
    padding: 4px 10px;
  }
  .sheet .name {
    text-align: left;
  }
  .title {
    text-align: right;
  }
  .picked {
    font-weight: 700;
    border-color: var(--color-primary);
  }
  .ignored {
    color: var(--ink-faint);
  }
</style>
