package leanladder.server.mail;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import leanladder.server.query.QueryContext;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.store.Store;

/** Texts to people that the mail server does not take, by what it says. */
public record MailTodoSource(Store store) implements TodoSource {
    private static final Duration TOLD = Duration.ofDays(7);

    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        return store.mail().stuck(queryContext.question().at().minus(TOLD)).stream()
                .map(undeliveredMail -> new TodoItem(
                        TodoItem.Topic.CHECK,
                        "mail:" + undeliveredMail.since() + ":" + undeliveredMail.ended(),
                        (undeliveredMail.texts() == 1
                                        ? "A mail to somebody was"
                                        : String.format("%,d mails to people were", undeliveredMail.texts()))
                                + " not taken by the mail server"
                                + (undeliveredMail.ended() ? " in many tries. " : " so far. ")
                                + undeliveredMail.trouble().replaceAll("[.\\s]+$", "") + ".",
                        "",
                        Optional.empty()))
                .toList();
    }
}
