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
    ['Email', { medium: 'e-mail' }, undefined],
    ['Email', { medium: 'newsletter' }, undefined],
    // No mail, though it begins like it or ends like a newsletter.
    ['Other campaign', { medium: 'mailing house' }, undefined],
    ['Other campaign', { medium: 'printed newsletter' }, undefined],
    // Hosts as they are in November 2026, from memory.
    ['Organic search', undefined, 'https://www.google.com/'],
    ['Organic search', undefined, 'https://www.google.co.uk/search?q=x'],
    ['Organic search', undefined, 'https://google.de'],
    ['Organic search', undefined, 'https://www.bing.com/'],
    ['Organic search', undefined, 'https://cn.bing.com/'],
    ['Organic search', undefined, 'https://yandex.ru/'],
    ['Organic search', undefined, 'android-app://com.google.android.googlequicksearchbox/'],
    ['Referral', undefined, 'https://docs.google.com/document/d/1'],
    ['Referral', undefined, 'https://notgoogle.com/'],
    ['Referral', undefined, 'https://google.example.com/'],
    ['Email', undefined, 'https://mail.google.com/mail/u/0/'],
    ['Email', undefined, 'android-app://com.google.android.gm/'],
    ['Email', undefined, 'https://outlook.live.com/'],
    ['Social', undefined, 'https://l.facebook.com/'],
    ['Social', undefined, 'https://m.facebook.com/'],
    ['Social', undefined, 'https://t.co/abc'],
    ['Social', undefined, 'https://x.com/'],
    ['Social', undefined, 'https://www.pinterest.fr/'],
    ['Social', undefined, 'https://old.reddit.com/r/x'],
    ['Referral', undefined, 'https://fox.com/'],
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
