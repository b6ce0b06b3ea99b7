import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'

export type RecipeAsk = Schemas['RecipeCheckAsk']
export type RecipeAnswer = Schemas['RecipeCheckAnswer']
export type Assumption = Schemas['Assumption']
export type Settled = Schemas['Settled']

/** What a recipe says and comes to; nothing of it is stored. */
export const useRecipe = (ask: RecipeAsk) =>
  useQuery({
    queryKey: ['recipe', ask],
    enabled: ask.text.trim() !== '',
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
    queryFn: async () => unwrap(await api.POST('/api/v1/calc/recipe-check', { body: ask })),
  })
