package leanladder.server.files;

import java.nio.charset.StandardCharsets;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.parser.Parser;
import org.jsoup.safety.Cleaner;
import org.jsoup.safety.Safelist;

/**
 * Leaves of an SVG what draws: shapes, texts, gradients, clips and their presentation. What runs, loads or links is left out by jsoup, which
 * keeps what a list of safe elements and attributes names.
 */
final class SvgSanitizer {
    private static final String NAMESPACE = "http://www.w3.org/2000/svg";

    private static final String[] ELEMENTS = {
        "svg",
        "g",
        "defs",
        "symbol",
        "use",
        "title",
        "desc",
        "style",
        "path",
        "rect",
        "circle",
        "ellipse",
        "line",
        "polyline",
        "polygon",
        "text",
        "tspan",
        "textPath",
        "linearGradient",
        "radialGradient",
        "stop",
        "clipPath",
        "mask",
        "pattern",
        "marker"
    };

    private static final String[] ATTRIBUTES = {
        "id",
        "class",
        "style",
        "transform",
        "viewBox",
        "preserveAspectRatio",
        "version",
        "xmlns",
        "x",
        "y",
        "x1",
        "y1",
        "x2",
        "y2",
        "cx",
        "cy",
        "r",
        "rx",
        "ry",
        "d",
        "points",
        "width",
        "height",
        "dx",
        "dy",
        "rotate",
        "fill",
        "fill-opacity",
        "fill-rule",
        "stroke",
        "stroke-width",
        "stroke-linecap",
        "stroke-linejoin",
        "stroke-miterlimit",
        "stroke-dasharray",
        "stroke-dashoffset",
        "stroke-opacity",
        "opacity",
        "color",
        "display",
        "visibility",
        "clip-path",
        "clip-rule",
        "mask",
        "offset",
        "stop-color",
        "stop-opacity",
        "gradientUnits",
        "gradientTransform",
        "spreadMethod",
        "fx",
        "fy",
        "clipPathUnits",
        "maskUnits",
        "patternUnits",
        "patternTransform",
        "marker-start",
        "marker-mid",
        "marker-end",
        "markerWidth",
        "markerHeight",
        "refX",
        "refY",
        "orient",
        "font-family",
        "font-size",
        "font-weight",
        "font-style",
        "text-anchor",
        "dominant-baseline",
        "letter-spacing",
        "role",
        "aria-label",
        "href",
        "xlink:href",
        "xmlns:xlink"
    };

    private static final Safelist SAFE =
            new Safelist().addTags(ELEMENTS).addAttributes(":all", ATTRIBUTES).preserveRelativeLinks(true);

    private SvgSanitizer() {}

    /** The same picture without what does not draw. What is left can still be unsafe in its styles; that is checked elsewhere. */
    static byte[] sanitize(byte[] svg) {
        Document parsed = Jsoup.parse(new String(svg, StandardCharsets.UTF_8), "", Parser.xmlParser());
        Document shell = Document.createShell("");
        Element root = parsed.selectFirst("svg");
        if (root == null) return svg;
        shell.body().appendChild(root);
        Document clean = new Cleaner(SAFE).clean(shell);
        clean.outputSettings().syntax(Document.OutputSettings.Syntax.xml).prettyPrint(false);
        Element drawn = clean.body().child(0);
        drawn.attr("xmlns", NAMESPACE);
        return drawn.outerHtml().getBytes(StandardCharsets.UTF_8);
    }
}
