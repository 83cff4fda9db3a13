import { describe, expect, it } from 'vitest'
import { campaignOf, channelOf } from './channel.ts'
import { pagePath } from './page-path.ts'

// Rules of the trade: common practice, no source.
describe('channelOf', () => {
  const own = ['shop.example']
  it.each([
    ['Paid search', { medium: 'cpc' }, undefined],
    ['Paid social', { medium: 'Paid Social' }, undefined],
    ['Social', { medium: 'social' }, undefined],
    ['Email', { medium: 'email' }, undefined],
    ['Display', { medium: 'banner' }, undefined],
    ['Other campaign', { medium: 'leaflet' }, undefined],
    ['Organic search', undefined, 'https://search.example/?q=x'],
    ['Social', undefined, 'https://social.example/'],
    ['Referral', undefined, 'https://blog.example/post'],
    ['Direct', undefined, 'https://shop.example/cart'],
    ['Direct', undefined, undefined],
    ['Direct', undefined, 'not an address'],
    ['Email', { medium: 'email' }, 'https://search.example/'],
  ])('is %s for %j from %s', (channel, campaign, referrer) => {
    expect(channelOf(campaign, referrer, own)).toBe(channel)
  })
})

describe('campaignOf', () => {
  it('reads the campaign parameters and nothing else', () => {
    expect(campaignOf('https://a.example/x?utm_source=s&utm_campaign=c&q=1#utm_term=t')).toEqual({
      source: 's',
      name: 'c',
    })
    expect(campaignOf('/x?q=1')).toBeUndefined()
  })
})

describe('pagePath', () => {
  it.each([
    ['https://a.example/nights/?q=1#x', '/nights'],
    ['https://a.example', '/'],
    ['/a/b/', '/a/b'],
    ['a/b', '/a/b'],
    ['', '/'],
    ['https://a.example?x=/y', '/'],
  ])('makes %s the page %s', (url, path) => {
    expect(pagePath(url)).toBe(path)
  })
})
