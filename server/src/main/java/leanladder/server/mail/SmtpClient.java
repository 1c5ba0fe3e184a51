package leanladder.server.mail;

import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.Authenticator;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.PasswordAuthentication;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.UnsupportedEncodingException;
import java.net.ConnectException;
import java.net.URI;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import leanladder.store.mail.MailTable;

/**
 * An SMTP server (RFC 5321) to which messages (RFC 5322) are handed over: one that the owner names, never one of ours.
 *
 * @param address {@code smtp://HOST:PORT}, which turns to TLS where the server can, and has to where it is given a password, or {@code smtps://HOST:PORT}
 * @param from whom messages come from
 */
public record SmtpClient(URI address, String from, Optional<String> user, Optional<String> password) {
    private static final String PATIENCE_MS = "10000";
    private static final int SMTP = 25;
    private static final int SMTPS = 465;

    /**
     * Reads the lines of a file: the server's address, whom messages come from, and a user and a password where it wants them.
     *
     * @throws IllegalArgumentException with a sentence, when something is missing or wrong
     */
    public static SmtpClient parse(List<String> lines) {
        if (lines.size() < 2)
            throw new IllegalArgumentException(
                    "The mail file needs two lines at least: smtp://HOST:PORT, and the address that mail comes from.");
        URI address;
        try {
            address = URI.create(lines.get(0).strip());
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("The mail file's first line is no address such as smtp://HOST:PORT.", e);
        }
        boolean fits = address.getHost() != null
                && address.getScheme() != null
                && address.getScheme().matches("smtps?");
        if (!fits)
            throw new IllegalArgumentException(
                    "The mail file's first line must be smtp://HOST:PORT or smtps://HOST:PORT, but is \""
                            + lines.get(0).strip() + "\".");
        try {
            new InternetAddress(lines.get(1).strip(), true);
        } catch (MessagingException e) {
            throw new IllegalArgumentException(
                    "The mail file's second line must be a mail address, but is \""
                            + lines.get(1).strip() + "\".",
                    e);
        }
        return new SmtpClient(address, lines.get(1).strip(), line(lines, 2), line(lines, 3));
    }

    private static Optional<String> line(List<String> lines, int at) {
        return lines.size() > at ? Optional.of(lines.get(at).strip()).filter(l -> !l.isEmpty()) : Optional.empty();
    }

    /** Hands a text over. @throws MessagingException when the server does not take it */
    void handOver(MailTable.PendingMail mail, Instant at) throws MessagingException {
        MimeMessage message = new MimeMessage(session()) {
            @Override
            protected void updateMessageID() throws MessagingException {
                setHeader(
                        "Message-ID",
                        "<" + mail.id() + "." + Integer.toHexString(mail.key().hashCode()) + "@"
                                + from.substring(from.indexOf('@') + 1) + ">");
            }
        };
        message.setFrom(new InternetAddress(from));
        try {
            message.setRecipient(
                    Message.RecipientType.TO,
                    new InternetAddress(mail.address(), mail.name(), StandardCharsets.UTF_8.name()));
        } catch (UnsupportedEncodingException e) {
            throw new IllegalStateException(e);
        }
        message.setSubject(mail.subject(), StandardCharsets.UTF_8.name());
        message.setText(mail.body(), StandardCharsets.UTF_8.name());
        message.setSentDate(Date.from(at));
        // RFC 3834: so that nobody's answer while away comes back.
        message.setHeader("Auto-Submitted", "auto-generated");
        Transport.send(message);
    }

    private Session session() {
        String scheme = address.getScheme();
        boolean tls = scheme.equals("smtps");
        Properties properties = new Properties();
        properties.put("mail.transport.protocol", scheme);
        properties.put("mail.transport.protocol.rfc822", scheme);
        String of = "mail." + scheme + ".";
        properties.put(of + "host", address.getHost());
        properties.put(of + "port", String.valueOf(address.getPort() > 0 ? address.getPort() : tls ? SMTPS : SMTP));
        properties.put(of + "connectiontimeout", PATIENCE_MS);
        properties.put(of + "timeout", PATIENCE_MS);
        properties.put(of + "writetimeout", PATIENCE_MS);
        properties.put(of + "auth", String.valueOf(user.isPresent()));
        properties.put(of + "starttls.enable", String.valueOf(!tls));
        // A password never leaves this machine in the clear.
        properties.put(of + "starttls.required", String.valueOf(!tls && user.isPresent() && !isHere()));
        properties.put(of + "ssl.checkserveridentity", "true");
        return Session.getInstance(
                properties, user.map(SmtpClient.this::authenticator).orElse(null));
    }

    /** What stood in the way of handing something over, in words. */
    static String trouble(MessagingException refused) {
        if (refused instanceof AuthenticationFailedException) return "It does not take the user and the password";
        for (Throwable cause = refused; cause != null; cause = cause.getCause())
            if (cause instanceof ConnectException || cause instanceof UnknownHostException)
                return "It cannot be reached";
        return String.valueOf(refused.getMessage()).strip();
    }

    private boolean isHere() {
        return address.getHost().equals("localhost") || address.getHost().startsWith("127.");
    }

    private Authenticator authenticator(String name) {
        return new Authenticator() {
            @Override
            protected PasswordAuthentication getPasswordAuthentication() {
                return new PasswordAuthentication(name, password.orElse(""));
            }
        };
    }

    /** Never tells the password. */
    @Override
    public String toString() {
        return "MailServer " + address;
    }
}
