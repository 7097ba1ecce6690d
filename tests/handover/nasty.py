"""Words that somebody may type as a name, or put there on purpose."""

FORMULAS = tuple(
    f"{first}{rest}"
    for first in ("=", "+", "-", "@", "\t=")
    for rest in (
        "1+1",
        'HYPERLINK("http://example.invalid","x")',
        "cmd|' /C calc'!A0",
        "SUM(A1:A9)",
        "IMPORTXML(A1)",
        'DDE("a";"b")',
        'WEBSERVICE("x")',
        "A1",
        "{1,2}",
        "'quoted'",
    )
)
MARKUP = (
    *(f"<{tag}>x</{tag}>" for tag in ("b", "i", "font", "a", "para", "img", "script", "br", "super", "seq")),
    *(
        f"<{tag} x='1'/>"
        for tag in ("img", "br", "a", "font", "para", "onDraw", "index", "bullet", "greek", "strike")
    ),
    *("<b>open", "close</b>", "<<>>", "&amp;", "&lt;b&gt;", "&#65;", "&nope;", "a & b", "a < b", "b > a"),
    *("]]>", "<![CDATA[x]]>", "<!-- x -->", "<?x?>", "%s %d", "{0}", "\\n", "\\", "`x`", "${x}"),
    *('"', "''", "</para>", "<para/>", "<font size=900>x", "<img src='/etc/hostname'/>", "&", "<", ">", "$(x)"),
)
PATHS = (
    *("../" * n + "x" for n in range(1, 6)),
    *("..\\" * n + "x" for n in range(1, 6)),
    *("/etc/x", "C:\\x", "~/x", ".", "..", "...", ".hidden", "-rf", "a/b/c", "a\\b", "//server/x", "file:///x"),
    *(
        "con",
        "nul",
        "AUX",
        "com1",
        "lpt9",
        "prn.txt",
        "a:b",
        "a*b",
        "a?b",
        "a|b",
        'a"b',
        "a<b>c",
        "a\nb",
        "a\x00b",
    ),
    *(
        "\u202ecod.exe",
        "\u2066x\u2069",
        "\ufeffx",
        "a\u200bb",
        " x ",
        "x.",
        "x" * 120,
        "日本語",
        "שלום",
        "%2e%2e%2f",
        "..%2fx",
    ),
    *("a\tb", "\u2028x", "x/../../y"),
)

_RIGHT = ("שלום", "بيت", "סלון ראשי", "غرفة", "\u202eexe.pdf")
_MARKS = ("", "\u200f", "\u202b", "\u2067", "\u202e")
TO_THE_LEFT = tuple(f"{mark}{first}{rest}" for mark in _MARKS for first in _RIGHT for rest in (" 2", " / Room"))
LONG = tuple(
    (letter * 120)[:length].strip() for letter in ("x", "W", "é", "ab ", "1") for length in range(30, 120, 9)
)
