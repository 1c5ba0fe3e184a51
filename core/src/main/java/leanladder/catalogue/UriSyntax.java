package leanladder.catalogue;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Tells links from other texts, by the grammar of RFC 3986, section 3 and appendix A. Percent signs are checked first and then
 * count as letters, so that every part is one class of characters and no text is too long.
 */
public final class UriSyntax {
    private static final String UNRESERVED = "A-Za-z0-9\\-._~";
    private static final String SUB_DELIMS = "!$&'()*+,;=";
    private static final String NAME = "[" + UNRESERVED + SUB_DELIMS + "%]";
    private static final String USER = "[" + UNRESERVED + SUB_DELIMS + "%:]";
    private static final String PATH = "[" + UNRESERVED + SUB_DELIMS + "%:@/]";
    private static final String TAIL =
            "(?:\\?" + PATH.replace("/]", "/?]") + "*+)?(?:#" + PATH.replace("/]", "/?]") + "*+)?";
    private static final Pattern WEB = Pattern.compile("(?i:https?)://(?:" + USER
            + "*+@)?(?:(?<literal>\\[[^\\]]*+\\])|" + NAME + "++)(?::[0-9]*+)?(?:/" + PATH + "*+)?" + TAIL);
    private static final Pattern MAIL = Pattern.compile("(?i:mailto):" + PATH + "*+" + TAIL);
    private static final Pattern FUTURE = Pattern.compile("[vV][0-9A-Fa-f]++\\.[" + UNRESERVED + SUB_DELIMS + ":]++");
    private static final Pattern BROKEN_PERCENT = Pattern.compile("%(?![0-9A-Fa-f]{2})");

    private UriSyntax() {}

    /** Whether the text is an http or https URI with a host, or a mailto URI. Linear in the text. */
    public static boolean isLink(String text) {
        if (BROKEN_PERCENT.matcher(text).find()) return false;
        if (MAIL.matcher(text).matches()) return true;
        Matcher web = WEB.matcher(text);
        if (!web.matches()) return false;
        String literal = web.group("literal");
        return literal == null || isAddress(literal.substring(1, literal.length() - 1));
    }

    private static boolean isAddress(String literal) {
        if (FUTURE.matcher(literal).matches()) return true;
        if (!literal.contains(":") || !literal.matches("[0-9A-Fa-f:.]+")) return false;
        try {
            // A literal with a colon is never looked up by name.
            InetAddress.getByName(literal);
            return true;
        } catch (UnknownHostException notAnAddress) {
            return false;
        }
    }
}
