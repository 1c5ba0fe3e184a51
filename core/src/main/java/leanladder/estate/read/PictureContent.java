package leanladder.estate.read;

import java.io.ByteArrayInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/** The content of a picture: PNG, JPEG, WebP, or SVG that runs and loads nothing, of at most 256 KB (estate-format.md). */
public final class PictureContent {
    /** How many bytes a picture has at most. */
    public static final int MOST_BYTES = 256 * 1024;

    private static final byte[] PNG = {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'};
    private static final byte[] JPEG = {(byte) 0xff, (byte) 0xd8, (byte) 0xff};
    private static final byte[] RIFF = {'R', 'I', 'F', 'F'};
    private static final byte[] WEBP = {'W', 'E', 'B', 'P'};
    private static final int WEBP_AT = 8;
    private static final String SVG = "image/svg+xml";

    /** Elements of SVG that run something, or bring in another document. */
    private static final Set<String> UNSAFE_ELEMENTS =
            Set.of("script", "foreignobject", "iframe", "object", "embed", "handler", "listener", "set", "animate");

    private PictureContent() {}

    /** What a picture is called by: the SHA-256 of its content, in lower-case hexadecimal digits. */
    public static String sha256(byte[] content) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(content));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("Every Java has SHA-256", e);
        }
    }

    /** The media type that a content has by what stands in it; empty where it is none of those allowed. */
    public static Optional<String> media(byte[] content) {
        if (startsWith(content, 0, PNG)) return Optional.of("image/png");
        if (startsWith(content, 0, JPEG)) return Optional.of("image/jpeg");
        if (startsWith(content, 0, RIFF) && startsWith(content, WEBP_AT, WEBP)) return Optional.of("image/webp");
        return isSvg(content) ? Optional.of(SVG) : Optional.empty();
    }

    /** Why a content cannot be a picture, as the end of a sentence that starts with the picture; empty where it can. */
    public static Optional<String> problem(byte[] content) {
        if (content.length > MOST_BYTES) return Optional.of("has more than 256 KB");
        Optional<String> media = media(content);
        if (media.isEmpty()) return Optional.of("is not PNG, JPEG, WebP or SVG");
        return media.get().equals(SVG) ? unsafe(content) : Optional.empty();
    }

    private static boolean startsWith(byte[] content, int at, byte[] start) {
        return content.length >= at + start.length
                && Arrays.equals(content, at, at + start.length, start, 0, start.length);
    }

    private static XMLStreamReader reader(byte[] content) throws XMLStreamException {
        XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        return factory.createXMLStreamReader(new ByteArrayInputStream(content));
    }

    private static boolean isSvg(byte[] content) {
        try {
            XMLStreamReader reader = reader(content);
            while (reader.hasNext())
                if (reader.next() == XMLStreamConstants.START_ELEMENT)
                    return reader.getLocalName().equals("svg");
            return false;
        } catch (XMLStreamException noXml) {
            return false;
        }
    }

    private static Optional<String> unsafe(byte[] content) {
        try {
            XMLStreamReader reader = reader(content);
            while (reader.hasNext()) {
                int event = reader.next();
                if (event == XMLStreamConstants.DTD || event == XMLStreamConstants.PROCESSING_INSTRUCTION)
                    return Optional.of("is SVG with a document type or a processing instruction, which is not allowed");
                if (event == XMLStreamConstants.CHARACTERS || event == XMLStreamConstants.CDATA) {
                    if (loads(reader.getText().toLowerCase(Locale.ROOT)))
                        return Optional.of("is SVG with a style that loads something, which is not allowed");
                }
                if (event != XMLStreamConstants.START_ELEMENT) continue;
                String element = reader.getLocalName().toLowerCase(Locale.ROOT);
                if (UNSAFE_ELEMENTS.contains(element))
                    return Optional.of("is SVG with the element <" + element + ">, which is not allowed");
                for (int i = 0; i < reader.getAttributeCount(); i++)
                    if (isUnsafe(reader.getAttributeLocalName(i).toLowerCase(Locale.ROOT), reader.getAttributeValue(i)))
                        return Optional.of("is SVG with the attribute " + reader.getAttributeLocalName(i)
                                + ", which runs or loads something");
            }
            return Optional.empty();
        } catch (XMLStreamException e) {
            return Optional.of("is not well-formed SVG");
        }
    }

    /** Links inside the picture and pictures in the text itself are safe. */
    private static boolean isUnsafe(String attribute, String value) {
        String text = value.strip().toLowerCase(Locale.ROOT);
        if (attribute.startsWith("on") || attribute.equals("base")) return true;
        if (attribute.equals("href") || attribute.equals("src"))
            return !text.startsWith("#") && !text.startsWith("data:image/png") && !text.startsWith("data:image/jpeg");
        return text.contains("javascript:") || loads(text);
    }

    /** Whether a style names something outside the picture. */
    private static boolean loads(String style) {
        return style.contains("@import") || style.replace("url(#", "").contains("url(");
    }
}
