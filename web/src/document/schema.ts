import published from './light.schema.gen.json'

/** What the published description of the light file says of a thing or a figure. */
export interface Schema {
  $ref?: string
  type?: string | string[]
  description?: string
  enum?: string[]
  properties?: Record<string, Schema>
  items?: Schema
  minimum?: number
  maximum?: number
}

export const schemas = published.$defs as unknown as Record<string, Schema>

export const resolve = (s: Schema | undefined): Schema | undefined => (s?.$ref ? schemas[s.$ref.split('/').at(-1)!] : s)
