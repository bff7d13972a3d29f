import {
  ACCESS,
  HEALTH_NAMES,
  HEALTHS,
  PROJECT_STATE_NAMES,
  PROJECT_STATES,
  TIERS,
} from '../words.ts'
import { field, type Field } from './field.ts'

/**
 * Fields of what a task belongs to: its project, client and phase, and the people about it. Guests
 * see the task that was handed to them, and nothing of how its project or client stands.
 */

const capital = (word: string): string => `${word[0]?.toUpperCase() ?? ''}${word.slice(1)}`
const named = { name: 'name', label: 'Name', type: 'text', stored: 'name' } as const

export const PROJECT_FIELDS: readonly Field<'project'>[] = [
  field('project', { ...named, read: (project) => project.name }),
  field('project', {
    ...{ name: 'client', label: 'Client', type: 'item', to: 'client', stored: 'clientId' },
    read: (project) => project.client ?? null,
    follow: (project) => project.client ?? null,
  }),
  field('project', {
    ...{ name: 'lead', label: 'Lead', type: 'person', to: 'person', stored: 'leadId' },
    readers: 'members',
    read: (project) => project.lead ?? null,
    follow: (project) => project.lead ?? null,
  }),
  field('project', {
    ...{ name: 'state', label: 'Where it stands', type: 'choice', stored: 'state' },
    readers: 'members',
    choices: PROJECT_STATES.map((value) => ({ value, name: PROJECT_STATE_NAMES[value] })),
    read: (project) => project.state ?? null,
  }),
  field('project', {
    ...{ name: 'category', label: 'Category', type: 'text', stored: 'category' },
    readers: 'members',
    read: (project) => project.category || null,
  }),
  field('project', {
    ...{ name: 'anchor', label: 'Date it counts from', type: 'date', stored: 'anchor' },
    readers: 'members',
    read: (project) => project.anchor ?? null,
  }),
  field('project', {
    ...{ name: 'health', label: 'Health as told', type: 'choice', stored: 'health' },
    readers: 'members',
    choices: HEALTHS.map((value) => ({ value, name: HEALTH_NAMES[value] })),
    read: (project) => project.health ?? null,
  }),
  field('project', {
    ...{ name: 'created', label: 'Made', type: 'moment' },
    readers: 'members',
    read: (project) => project.createdAt ?? null,
  }),
  field('project', {
    ...{ name: 'closed', label: 'Finished', type: 'moment', stored: 'closedAt' },
    readers: 'members',
    read: (project) => project.closedAt ?? null,
  }),
]

export const CLIENT_FIELDS: readonly Field<'client'>[] = [
  field('client', { ...named, read: (client) => client.name }),
  field('client', {
    ...{ name: 'short', label: 'Short name', type: 'text', stored: 'short' },
    read: (client) => client.short,
  }),
  field('client', {
    ...{ name: 'tier', label: 'Tier', type: 'choice', stored: 'tier', readers: 'members' },
    choices: TIERS.map((value) => ({ value, name: capital(value) })),
    read: (client) => client.tier ?? null,
  }),
  field('client', {
    ...{ name: 'state', label: 'Where it stands', type: 'item', to: 'client-state' },
    ...{ stored: 'stateId', readers: 'members' },
    read: (client) => client.state ?? null,
  }),
  field('client', {
    ...{ name: 'lead', label: 'Lead', type: 'person', to: 'person', stored: 'leadId' },
    readers: 'members',
    read: (client) => client.lead ?? null,
    follow: (client) => client.lead ?? null,
  }),
  field('client', {
    ...{ name: 'tag', label: 'Tag', type: 'tags', to: 'tag', readers: 'members' },
    read: (client) => client.tags ?? [],
  }),
]

export const PHASE_FIELDS: readonly Field<'phase'>[] = [
  field('phase', { ...named, read: (phase) => phase.name }),
]

export const PERSON_FIELDS: readonly Field<'person'>[] = [
  field('person', { ...named, read: (person) => person.name }),
  field('person', {
    ...{ name: 'access', label: 'Access', type: 'choice', stored: 'access', readers: 'members' },
    choices: ACCESS.map((value) => ({ value, name: capital(value) })),
    read: (person) => person.access ?? null,
  }),
]
