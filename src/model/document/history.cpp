#include "model/document/history.h"

namespace vicinal {

void History::push(Document document, std::string name, std::string merge) {
    Step step{std::move(document), std::move(name), merge, ++m_serial};
    const bool replaces = !merge.empty() && m_steps[m_at].merge == merge && m_at > 0;
    m_steps.resize(replaces ? m_at : m_at + 1);
    m_steps.push_back(std::move(step));
    m_at = m_steps.size() - 1;
}

void History::goTo(size_t step) {
    if (step >= m_steps.size()) return;
    m_at = step;
    seal();
}

} // namespace vicinal
