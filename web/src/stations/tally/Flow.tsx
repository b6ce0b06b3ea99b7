import { sankey, sankeyJustify, sankeyLinkHorizontal } from 'd3-sankey'
import { useMemo } from 'react'
import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useFormat } from '../../units'
import { byproductWords, lossWords } from '../words'

type Node = Schemas['Node']
type Box = { key: string; kind: Schemas['NodeKind']; label: string }

const WIDTH = 1000
const fills: Record<Schemas['NodeKind'], string> = {
  received: 'var(--color-meat)',
  material: 'var(--color-edge)',
  product: 'var(--color-violet)',
  packed: 'var(--color-good)',
  byproduct: 'var(--color-fat)',
  loss: 'var(--color-loss)',
  rest: 'var(--color-line)',
}
const keyOf = (node: Node) => `${node.kind}:${node.name}`

/** Where every gram went; the widths add up at every box. */
export function Flow({ links }: { links: Schemas['Link'][] }) {
  const builds = useCatalogue().data?.builds
  const format = useFormat()
  const laid = useMemo(() => {
    const name = (key: string) => builds?.find((b) => b.key === key)?.name ?? (key === 'unassigned' ? 'no product yet' : key)
    const label = (n: Node) => {
      if (n.kind === 'received') return 'came in'
      if (n.kind === 'material') return n.name === 'meat' ? 'meat from elsewhere' : 'cure, salt, water'
      if (n.kind === 'product') return name(n.name)
      if (n.kind === 'packed') return `packed ${name(n.name)}`
      if (n.name === 'given') return 'given to others'
      if (n.kind === 'byproduct') return byproductWords[n.name as Schemas['Byproduct']]
      if (n.kind === 'loss') return lossWords[n.name as Schemas['Loss']]
      return n.name === 'to_weigh' ? 'still to weigh' : 'on its way'
    }
    const boxes = new Map<string, Box>()
    for (const { from, to } of links)
      for (const n of [from, to]) boxes.set(keyOf(n), { key: keyOf(n), kind: n.kind, label: label(n) })
    if (boxes.size === 0) return undefined
    const ends = [...boxes.values()].filter((b) => b.kind !== 'received' && b.kind !== 'material' && b.kind !== 'product').length
    const height = Math.max(320, ends * 44)
    const layout = sankey<Box, object>()
      .nodeId((b) => b.key)
      .nodeWidth(16)
      .nodePadding(20)
      .nodeAlign(sankeyJustify)
      .extent([
        [4, 8],
        [WIDTH - 330, height - 8],
      ])
    const graph = layout({
      nodes: [...boxes.values()].map((b) => ({ ...b })),
      links: links.map((l) => ({ source: keyOf(l.from), target: keyOf(l.to), value: l.mass_mg / 1000 })),
    })
    return { ...graph, height }
  }, [links, builds])
  if (!laid) return null
  return (
    <figure className="table-top p-3">
      <div
        className="overflow-x-auto"
        tabIndex={0}
        role="region"
        aria-label="Flow from what came in to packs, by-products and losses"
      >
        <svg viewBox={`0 0 ${WIDTH} ${laid.height}`} className="w-full min-w-[44rem]" aria-hidden>
          <g fill="none">
            {laid.links.map((l, i) => (
              <path
                key={i}
                d={sankeyLinkHorizontal()(l) ?? ''}
                stroke={fills[(l.target as unknown as Box).kind]}
                strokeOpacity={0.38}
                strokeWidth={Math.max(1, l.width ?? 1)}
              />
            ))}
          </g>
          {laid.nodes.map((n) => (
            <g key={n.key}>
              <rect
                x={n.x0}
                y={n.y0}
                width={(n.x1 ?? 0) - (n.x0 ?? 0)}
                height={Math.max(1.5, (n.y1 ?? 0) - (n.y0 ?? 0))}
                fill={fills[n.kind]}
              />
              <text
                x={(n.x1 ?? 0) + 6}
                y={((n.y0 ?? 0) + (n.y1 ?? 0)) / 2}
                dy="0.35em"
                fontSize={15}
                fill="var(--color-ink)"
                paintOrder="stroke"
                stroke="var(--color-table)"
                strokeWidth={4}
                strokeLinejoin="round"
              >
                {n.label}{' '}
                <tspan fontFamily="var(--font-figures)" fontWeight={650}>
                  {format.mass(n.value ?? 0)}
                </tspan>
              </text>
            </g>
          ))}
        </svg>
      </div>
      <figcaption className="sr-only">
        <ul>
          {links.map((l) => (
            <li key={keyOf(l.from) + keyOf(l.to)}>
              {format.mass(l.mass_mg / 1000)} from {laid.nodes.find((n) => n.key === keyOf(l.from))?.label} to{' '}
              {laid.nodes.find((n) => n.key === keyOf(l.to))?.label}
            </li>
          ))}
        </ul>
      </figcaption>
    </figure>
  )
}
