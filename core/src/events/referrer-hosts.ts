/*
 * Hosts that refer visitors, as of November 2026, from memory: no list of them is published by anybody who must know.
 * A host stands for itself and everything below it; "name.*" for name.com, www.name.de, name.co.uk and the like, but for
 * no other host of that company (docs.name.com).
 */

/** Web mail and mail apps. Looked up first, since some lie below a search engine's host. */
export const MAIL_HOSTS: readonly string[] = [
  ...['mail.google.com', 'com.google.android.gm', 'inbox.google.com'],
  ...['outlook.live.com', 'outlook.office.com', 'outlook.office365.com', 'outlook.com', 'hotmail.com'],
  ...['mail.yahoo.com', 'mail.yahoo.co.jp', 'mail.aol.com', 'mail.proton.me', 'mail.protonmail.com'],
  ...[
    'e.mail.ru',
    'mail.ru',
    'mail.yandex.ru',
    'mail.yandex.com',
    'mail.qq.com',
    'mail.163.com',
    'mail.126.com',
  ],
  ...[
    'app.fastmail.com',
    'mail.zoho.com',
    'mail.zoho.eu',
    'app.tuta.com',
    'mail.tutanota.com',
    'app.hey.com',
  ],
  ...[
    '3c.web.de',
    'navigator.web.de',
    'navigator.gmx.net',
    'navigator.gmx.com',
    '3c.gmx.net',
    'mail.gmx.net',
  ],
  ...[
    'mail.naver.com',
    'mail.daum.net',
    'mail.orange.fr',
    'zimbra.free.fr',
    'mail.libero.it',
    'poczta.onet.pl',
  ],
  ...['poczta.wp.pl', 'email.seznam.cz', 'email.t-online.de', 'mail.bt.com', 'mail.comcast.net'],
]

export const SEARCH_HOSTS: readonly string[] = [
  ...['google.*', 'com.google.android.googlequicksearchbox', 'bing.com', 'duckduckgo.com', 'ecosia.org'],
  ...['search.yahoo.com', 'search.yahoo.co.jp', 'yahoo.*', 'qwant.com', 'startpage.com', 'search.brave.com'],
  ...['baidu.com', 'sogou.com', 'so.com', 'sm.cn', 'yandex.*', 'ya.ru', 'go.mail.ru', 'nova.rambler.ru'],
  ...['search.naver.com', 'search.daum.net', 'seznam.cz', 'search.seznam.cz', 'coccoc.com', 'ask.com'],
  ...['search.aol.com', 'kagi.com', 'mojeek.com', 'swisscows.com', 'metager.org', 'metager.de', 'lycos.com'],
  ...[
    'dogpile.com',
    'webcrawler.com',
    'info.com',
    'onet.pl',
    'search.ch',
    'suche.t-online.de',
    'suche.web.de',
  ],
  ...['suche.gmx.net', 'lilo.org', 'presearch.com', 'gibiru.com', 'search.marginalia.nu', 'petalsearch.com'],
]

export const SOCIAL_HOSTS: readonly string[] = [
  ...['facebook.com', 'fb.com', 'fb.me', 'messenger.com', 'm.me', 'com.facebook.katana', 'instagram.com'],
  ...['threads.net', 'threads.com', 'x.com', 'twitter.com', 't.co', 'linkedin.com', 'lnkd.in'],
  ...['com.linkedin.android', 'reddit.com', 'redd.it', 'pinterest.*', 'pin.it', 'youtube.com', 'youtu.be'],
  ...['tiktok.com', 'snapchat.com', 'whatsapp.com', 'wa.me', 'telegram.org', 't.me', 'bsky.app'],
  ...['mastodon.social', 'mastodon.online', 'tumblr.com', 'vk.com', 'ok.ru', 'weibo.com', 'weibo.cn'],
  ...['zhihu.com', 'douyin.com', 'xiaohongshu.com', 'line.me', 'kakao.com', 'quora.com', 'discord.com'],
  ...[
    'xing.com',
    'nextdoor.com',
    'flickr.com',
    'vimeo.com',
    'twitch.tv',
    'news.ycombinator.com',
    'disqus.com',
  ],
]
