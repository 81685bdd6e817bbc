'use client'
import { Command } from 'cmdk'
import { useState } from 'react'

type Named = { key: string; title: string }
type Props = {
  cases: readonly Named[]
  suites: readonly Named[]
  onAdd(value: Record<string, unknown>): void
}

const SHOWN_MOST = 60

/** Finds a case or suite by name, or names a group. */
export function EntryFinder({ cases, suites, onAdd }: Props) {
  const [text, setText] = useState('')
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = ({ key, title }: Named) =>
    words.every((word) => title.toLowerCase().includes(word) || key.includes(word))
  const [someCases, someSuites] = [
    cases.filter(fits).slice(0, SHOWN_MOST),
    suites.filter(fits).slice(0, SHOWN_MOST),
  ]
  const add = (value: Record<string, unknown>) => {
    onAdd(value)
    setText('')
  }
  const item = 'cursor-pointer rounded-[4px] px-2 py-1 text-sm data-[selected=true]:bg-act-wash'
  return (
    <Command shouldFilter={false} label="Add an entry">
      <Command.Input
        autoFocus
        value={text}
        onValueChange={setText}
        placeholder="A case, a suite, or the name of a new group"
        className="mb-1 h-8 w-full rounded-oak border border-line bg-surface px-2 text-sm"
      />
      <Command.List className="max-h-[46vh] overflow-auto">
        {someSuites.map(({ key, title }) => (
          <Command.Item
            key={`s${key}`}
            value={`suite ${key}`}
            className={item}
            onSelect={() => add({ suite: key })}
          >
            {title} <span className="text-soft">suite</span>
          </Command.Item>
        ))}
        {someCases.map(({ key, title }) => (
          <Command.Item
            key={`c${key}`}
            value={`case ${key}`}
            className={item}
            onSelect={() => add({ case: key })}
          >
            {title} <span className="font-mono text-xs text-soft">{key}</span>
          </Command.Item>
        ))}
        <Command.Item
          value="group"
          className={item}
          onSelect={() => add({ group: text.trim() || 'New group', entries: [] })}
        >
          A new group
          {text.trim() && (
            <>
              {' '}
              called <b>{text.trim()}</b>
            </>
          )}
        </Command.Item>
      </Command.List>
    </Command>
  )
}
