package leanladder.estate;

import java.util.regex.Pattern;

/**
 * The syntax of mail addresses to which mail can be sent: a local part of printable ASCII without quoting (RFC 5321, section 4.1.2, {@code
 * Dot-string}) and a domain name. Other characters are cut to bytes on their way to a mail server, and some of these bytes end a command.
 */
public final class MailAddress {
    private static final int LONGEST = 254;
    private static final String ATOM = "[A-Za-z0-9!#$%&'*+/=?^_`{|}~-]+";
    private static final String LABEL = "[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?";
    private static final Pattern ADDRESS =
            Pattern.compile(ATOM + "(?:\\." + ATOM + ")*@" + LABEL + "(?:\\." + LABEL + ")*");

    private MailAddress() {}

    /** Whether mail can be sent to this text. */
    public static boolean isValid(String text) {
        return text.length() <= LONGEST && ADDRESS.matcher(text).matches();
    }
}
