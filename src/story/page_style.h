#pragma once
// How pages that are sent to people look, and how pictures stand in them: nothing comes from elsewhere.
#include <QImage>
#include <QString>

namespace hobble {

inline constexpr const char* kPageStyle =
    "body{font:16px/1.5 'Atkinson Hyperlegible Next','Atkinson Hyperlegible',sans-serif;background:#f7f2e8;"
    "color:#1d2a33;margin:0 auto;max-width:74em;padding:2em 1.5em}h1{font-size:1.7em;margin:0}"
    "h2{font-size:1.15em;margin:0 0 .2em}nav{margin:1em 0 2em}nav "
    "a{display:block;text-decoration:none;padding:.1em "
    "0}a{color:#1d2a33}section{border-top:1px solid #d9cfbc;padding:1.4em 0}"
    ".q,small,figcaption{color:#56626a}.q{margin:.2em 0}.p{display:flex;flex-wrap:wrap;gap:8px;margin:.8em 0}"
    "figure{margin:0;flex:0 1 calc(25% - 6px);min-width:200px}figure "
    "img{display:block;width:100%;height:auto}"
    "figcaption{font-size:.85em}.c{display:flex;flex-wrap:wrap;gap:24px;align-items:center}"
    "details{margin:.4em 0}summary{cursor:pointer;color:#56626a}ul{padding:0;list-style:none;margin:.3em 0 0 "
    "1em}"
    "td,th{padding:.15em 1.2em .15em 0;text-align:left;vertical-align:middle}"
    "b.s{display:inline-block;min-width:1.3em;text-align:center;border:2px solid transparent}"
    "b.s1{border-left-color:#1d2a33}b.s2{border-left-color:#1d2a33;border-bottom-color:#1d2a33}"
    "b.s3{border-color:#1d2a33;border-top-color:transparent}b.s4{border-color:#9c2f22;color:#9c2f22}"
    "@media print{section{break-inside:avoid}nav{display:none}}";

/// Words as they stand in a page.
QString escaped(const QString& words);
QString escaped(const std::string& words);

/// A picture within the page, with its words below: small enough that forty can be sent by mail.
QString figureTag(const QImage& image, const QString& words);

} // namespace hobble
